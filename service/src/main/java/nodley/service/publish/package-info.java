/** Publishing form files: over the wire, from a folder that is watched, and for the demo. */
package nodley.service.publish;
