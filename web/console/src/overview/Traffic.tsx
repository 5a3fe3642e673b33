import { language, t } from '../words';
import { Bars, verdicts } from './Bars';
import { DAY, HOUR, slots, type Hour, type Slot } from './figures';

/** What was sent in the last day, by the hour, and in the last week, by the day. */
export function Traffic({ counts, until }: { counts: Hour[]; until: number }) {
  const day = slots(counts, until - DAY, until, HOUR);
  const week = slots(counts, until - 7 * DAY, until, DAY);
  const hour = new Intl.DateTimeFormat(language(), {
    weekday: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  });
  const date = new Intl.DateTimeFormat(language(), {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    timeZone: 'UTC',
  });
  return (
    <>
      <h2>{t('What was sent')}</h2>
      <div className="plots">
        <Bars
          title={t('The last day, by the hour')}
          rows={rows(day, hour)}
          name="name"
          nameLabel={t('Hour')}
          series={verdicts()}
          height={200}
        />
        <Bars
          title={t('The last week, by the day (UTC)')}
          rows={rows(week, date)}
          name="name"
          nameLabel={t('Day')}
          series={verdicts()}
          height={200}
        />
      </div>
    </>
  );
}

function rows(all: Slot[], format: Intl.DateTimeFormat) {
  return all.map(({ from, accepted, refused, failed }) => ({
    name: format.format(from),
    accepted,
    refused,
    failed,
  }));
}
