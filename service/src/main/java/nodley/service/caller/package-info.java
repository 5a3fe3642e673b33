/** Authentication and authorisation: who calls, and what they may do. */
package nodley.service.caller;
