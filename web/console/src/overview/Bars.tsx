import {
  Bar,
  BarChart,
  CartesianGrid,
  Legend,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { t } from '../words';

/** One kind of thing that is counted; told apart by its pattern, too, for who cannot see its colour. */
export interface Series {
  key: string;
  label: string;
  pattern: 'full' | 'lines' | 'dots';
}

interface Props {
  title: string;
  rows: Record<string, string | number>[];
  /** The member of a row that names it. */
  name: string;
  nameLabel: string;
  series: Series[];
  /** Lies on its side: for long names. */
  across?: boolean;
  /** Series stand upon each other: they are parts of a whole. */
  stacked?: boolean;
  height: number;
}

/** A plot of counts or times, and the same as a table for who reads rather than looks. */
export function Bars(props: Props) {
  const { title, rows, name, nameLabel, series, across = false, stacked = true, height } = props;
  return (
    <figure className="plot">
      <figcaption>{title}</figcaption>
      <div aria-hidden="true">
        <ResponsiveContainer width="100%" height={height}>
          <BarChart
            data={rows}
            layout={across ? 'vertical' : 'horizontal'}
            accessibilityLayer={false}
            margin={{ right: 28 }}
          >
            <defs>
              {series.map(({ key, pattern }) => (
                <Pattern key={key} id={`fill-${key}`} pattern={pattern} />
              ))}
            </defs>
            <CartesianGrid stroke="var(--line)" vertical={across} horizontal={!across} />
            {across ? (
              <>
                <XAxis type="number" allowDecimals={false} stroke="var(--soft)" />
                <YAxis type="category" dataKey={name} width={180} stroke="var(--soft)" />
              </>
            ) : (
              <>
                <XAxis dataKey={name} stroke="var(--soft)" minTickGap={24} />
                <YAxis allowDecimals={false} width={44} stroke="var(--soft)" />
              </>
            )}
            <Tooltip
              isAnimationActive={false}
              contentStyle={{ background: 'var(--sheet)', borderColor: 'var(--line)' }}
              cursor={{ fill: 'var(--line)', opacity: 0.4 }}
            />
            <Legend />
            {series.map(({ key, label }) => (
              <Bar
                key={key}
                dataKey={key}
                name={label}
                {...(stacked && { stackId: 'all' })}
                fill={`url(#fill-${key})`}
                isAnimationActive={false}
              />
            ))}
          </BarChart>
        </ResponsiveContainer>
      </div>
      <details>
        <summary>{t('As a table')}</summary>
        <table className="figures">
          <caption className="unseen">{title}</caption>
          <thead>
            <tr>
              <th scope="col">{nameLabel}</th>
              {series.map(({ key, label }) => (
                <th key={key} scope="col">
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, index) => (
              <tr key={index}>
                <th scope="row">{row[name]}</th>
                {series.map(({ key }) => (
                  <td key={key}>{row[key]}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}

function Pattern({ id, pattern }: { id: string; pattern: Series['pattern'] }) {
  const colour = `var(--${pattern === 'full' ? 'right' : pattern === 'lines' ? 'wrong' : 'soft'})`;
  return (
    <pattern id={id} width="6" height="6" patternUnits="userSpaceOnUse">
      {pattern === 'full' && <rect width="6" height="6" fill={colour} />}
      {pattern === 'lines' && (
        <>
          <rect width="6" height="6" fill="var(--sheet)" />
          <path d="M0 6 L6 0" stroke={colour} strokeWidth="2.5" />
        </>
      )}
      {pattern === 'dots' && (
        <>
          <rect width="6" height="6" fill="var(--sheet)" />
          <circle cx="3" cy="3" r="1.8" fill={colour} />
        </>
      )}
    </pattern>
  );
}

/** How attempts come out, as series. */
export function verdicts(): Series[] {
  return [
    { key: 'accepted', label: t('accepted'), pattern: 'full' },
    { key: 'refused', label: t('refused'), pattern: 'lines' },
    { key: 'failed', label: t('failed'), pattern: 'dots' },
  ];
}
