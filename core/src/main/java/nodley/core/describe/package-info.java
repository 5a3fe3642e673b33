/** The description of a form for the page runtime. */
package nodley.core.describe;
