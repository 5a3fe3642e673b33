/** One line of the summary; with an id it leads to that control. */
export interface Line {
  text: string;
  id?: string | undefined;
  /** The field of which theirs can be kept, and what the button says. */
  take?: [name: string, label: string];
}
