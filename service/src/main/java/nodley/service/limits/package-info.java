/** What one request, one address and all together may take, and how that is configured. */
package nodley.service.limits;
