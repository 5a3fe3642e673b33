/** The operator's log: who did what to forms, files, keys and sessions. */
package nodley.service.operator;
