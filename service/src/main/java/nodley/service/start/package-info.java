/** Starting: the commands {@code serve} and {@code demo}, and the container. */
package nodley.service.start;
