import type { Controls } from './controls';
import type { Description, Values, Word } from '../description';
import type { OpenForm } from '../form/open-form';
import type { Service } from '../net/service';

/** What is known of a bound form, and can be done with it. */
export interface Page {
  form: HTMLFormElement;
  description: Description;
  opened: OpenForm;
  service: Service | undefined;
  /** The values that the page came with. */
  initial: Values;
  controls: Controls;
  say: (word: Word, args: Record<string, string | number>) => string;
}
