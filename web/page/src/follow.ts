/**
 * Tells each change of a record, until the function that it gives is called.
 *
 * @param base where the service's calls are, `/api`
 */
export function follow(
  base: string,
  form: string,
  record: string,
  changed: (version: number) => unknown,
): () => void {
  if (typeof EventSource === 'undefined') {
    return () => {};
  }
  const stream = new EventSource(`${base}/forms/${form}/changes?record=${record}`);
  stream.onmessage = (event) =>
    changed((JSON.parse(event.data as string) as { version: number }).version);
  // Cut off for so long that the service cannot tell what came since: the record itself tells.
  stream.addEventListener('reset', () => {
    fetch(`${base}/forms/${form}/records/${record}`)
      .then(async (reply) => {
        if (reply.ok) {
          changed(((await reply.json()) as { version: number }).version);
        } else if (reply.status === 404) {
          changed(0);
        }
      })
      .catch(() => undefined);
  });
  return () => stream.close();
}
