/** What happens, told to those who watch, as it happens. */
package nodley.service.live;
