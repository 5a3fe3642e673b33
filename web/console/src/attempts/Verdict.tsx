import { t } from '../words';
import type { Attempt } from './attempts';

/** How an attempt came out, by a word and a colour. */
export function Verdict({ of: { verdict, problem } }: { of: Attempt }) {
  const why = problem && problem !== verdict ? `: ${problem}` : '';
  return <span className={`verdict ${verdict}`}>{t(verdict) + why}</span>;
}
