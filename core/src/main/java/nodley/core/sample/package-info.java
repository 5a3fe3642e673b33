/**
 * Made-up values for a form: such that it accepts, and such that have one fault each. What is made
 * is judged like any submission before it is given out.
 */
package nodley.core.sample;
