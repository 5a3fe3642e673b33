/** Who may call and who did: keys, sessions, signed tokens and the operator's log. */
package nodley.store.access;
