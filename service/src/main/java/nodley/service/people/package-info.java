/** People who sign in here: by name and password, with what slows guesses down. */
package nodley.service.people;
