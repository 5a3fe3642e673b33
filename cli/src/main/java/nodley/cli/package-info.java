/** The command-line client: one class a command; {@link nodley.cli.Client} talks to the service. */
package nodley.cli;
