/**
 * A stand-in for the issuer at which the people of Marrow Quay sign in: an OpenID provider by
 * Spring Authorization Server. It asks for no password, and is for the demo and for tests only.
 */
package nodley.issuer;
