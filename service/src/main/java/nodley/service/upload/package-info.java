/** Files on their way to records: by the tus protocol, or within a form. */
package nodley.service.upload;
