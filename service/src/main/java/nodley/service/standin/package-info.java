/**
 * Stand-ins for services of others, which the demo starts beside the service: a register of vessels
 * that is asked, an almanac of ports that is looked into, and a mail server whose mails go nowhere
 * but to a page.
 */
package nodley.service.standin;
