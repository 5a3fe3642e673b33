/** Pages of developers, held against the forms that they are for. */
package nodley.cli.page;
