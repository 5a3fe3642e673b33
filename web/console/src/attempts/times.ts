/** A moment, RFC 3339, as a control for the browser's local time has it; blank if it is none. */
export function localOf(moment: string): string {
  const date = new Date(moment);
  return Number.isNaN(date.getTime())
    ? ''
    : new Date(date.getTime() - date.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

/** The moment of a local time, which means the same to a colleague elsewhere. */
export function momentOf(local: string): string {
  const date = new Date(local);
  return Number.isNaN(date.getTime()) ? '' : date.toISOString();
}
