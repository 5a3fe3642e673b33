/**
 * What the addresses of programs and pages share: bodies, queries, conditional and repeatable
 * requests, replies.
 */
package nodley.service.http;
