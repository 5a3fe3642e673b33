import { Bars, type Series } from '../overview/Bars';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { language, t } from '../words';
import { latencies } from './service';

/** How long submissions of the last day took, by the hour: half of them, and all but one of a hundred. */
export function Speed() {
  const loaded = useLoaded('latencies', latencies);
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (!loaded.value) {
    return <Waiting />;
  }
  if (loaded.value.length === 0) {
    return <p className="empty">{t('Nothing was sent in the last day.')}</p>;
  }
  const hour = new Intl.DateTimeFormat(language(), {
    weekday: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  });
  const series: Series[] = [
    { key: 'median', label: t('half took at most'), pattern: 'full' },
    { key: 'p99', label: t('99 of 100 took at most'), pattern: 'lines' },
  ];
  return (
    <Bars
      title={t('The last day, by the hour, in milliseconds')}
      rows={loaded.value.map(({ hour: begins, medianMicros, p99Micros }) => ({
        name: hour.format(begins),
        median: milliseconds(medianMicros),
        p99: milliseconds(p99Micros),
      }))}
      name="name"
      nameLabel={t('Hour')}
      series={series}
      stacked={false}
      height={200}
    />
  );
}

const milliseconds = (micros: number) => Math.round(micros / 100) / 10;
