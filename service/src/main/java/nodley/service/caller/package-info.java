/** Who calls, and what they may do. */
package nodley.service.caller;
