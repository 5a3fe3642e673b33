/** Sentences for people: ICU MessageFormat, the languages they are in, and what fills them. */
package nodley.core.text;
