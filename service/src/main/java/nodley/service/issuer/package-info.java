/** Issuers: people who sign in elsewhere, by OpenID Connect or with tokens. */
package nodley.service.issuer;
