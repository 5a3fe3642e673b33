/** Starting and stopping: the commands that run in the service's process, and the container. */
package nodley.service.start;
