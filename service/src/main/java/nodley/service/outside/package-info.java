/**
 * Calls to other services: only to addresses that the settings name, in a limited time, and signed
 * so that those who are called know who calls. Who is called, and why, is decided elsewhere.
 */
package nodley.service.outside;
