/** How long records are kept: those that go by age. */
package nodley.service.retention;
