/** Messages for people: ICU MessageFormat, languages, plurals. */
package nodley.core.text;
