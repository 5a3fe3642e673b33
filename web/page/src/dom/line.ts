/** One line of the summary; with an id it leads to that control. */
export interface Line {
  text: string;
  id?: string | undefined;
  /** A button behind the text, and what it says. */
  label?: string;
  button?: () => HTMLElement;
}
