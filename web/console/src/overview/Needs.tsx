import { Link } from 'react-router';
import type { Outlet } from '../deliveries';
import { daysLeft, type DiskUse } from '../service/service';
import { t } from '../words';
import { DAY, type Hour } from './figures';

/** A day with so many refusals is looked at, and so many times the week's usual is too many. */
const MANY = 10;
const TIMES = 2;
/** A disk that is full in so many days needs somebody. */
const SOON = 30;

interface Props {
  counts: Hour[];
  until: number;
  /** The outlets; none for who may not see them. */
  places?: Outlet[];
  disk?: DiskUse;
}

/** What needs somebody: refusals that rise, deliveries that fail, a disk that fills. Nothing where nothing does. */
export function Needs({ counts, until, places = [], disk }: Props) {
  const needs: { text: string; to: string; link: string }[] = rising(counts, until).map((form) => ({
    text: t('Refusals of {form} have risen in the last day.', { form }),
    to: `/forms/${form}/struggles`,
    link: t('Where people struggle'),
  }));
  for (const { name, on, failed } of places) {
    if (!on) {
      needs.push({
        text: t('The outlet {name} is switched off; what is for it waits.', { name }),
        to: '/deliveries?state=waiting',
        link: t('Deliveries'),
      });
    } else if (failed > 0) {
      needs.push({
        text: t('Deliveries to {name} have failed: {count}.', { name, count: failed }),
        to: `/deliveries?state=failed&outlet=${name}`,
        link: t('Look at them'),
      });
    }
  }
  const days = disk && daysLeft(disk);
  if (days !== undefined && days < SOON) {
    needs.push({
      text: t('At this pace the disk is full in {days} days.', { days }),
      to: '/service',
      link: t('Service'),
    });
  }
  return needs.length === 0 ? null : (
    <ul className="needs" aria-label={t('What needs somebody')}>
      {needs.map(({ text, to, link }) => (
        <li key={text}>
          {text} <Link to={to}>{link}</Link>
        </li>
      ))}
    </ul>
  );
}

/** The forms of which far more was refused in the last day than is usual of the days before. */
export function rising(counts: Hour[], until: number): string[] {
  const days = new Map<string, { last: number; before: number }>();
  for (const { form, hour, verdict, count } of counts) {
    if (verdict === 'refused') {
      const line = days.get(form) ?? { last: 0, before: 0 };
      line[hour >= until - DAY ? 'last' : 'before'] += count;
      days.set(form, line);
    }
  }
  return [...days]
    .filter(([, { last, before }]) => last >= MANY && last > (TIMES * before) / 6)
    .map(([form]) => form);
}
