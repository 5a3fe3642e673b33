/** Names: how they are made from each other, and which one was probably meant. */
package nodley.core.name;
