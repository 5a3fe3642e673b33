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
  return () => stream.close();
}
