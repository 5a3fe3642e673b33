/** The command-line client: one class a command; {@link nodley.cli.Client} is the way to HTTP. */
package nodley.cli;
