import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { t } from '../words';
import { sourceTables, type SourceTable } from './files';

interface Props {
  chosen: SourceTable | undefined;
  choose: (table: SourceTable) => void;
}

/** Offers the tables of the databases that the settings of the service name. */
export function TableChoice({ chosen, choose }: Props) {
  const { value, error, again } = useLoaded('tables', sourceTables);
  if (error) {
    return <Failure text={error} again={again} />;
  }
  if (!value) {
    return <Waiting />;
  }
  const sources = [...new Set(value.tables.map(({ source }) => source))];
  return (
    <>
      {value.away.map((source) => (
        <p key={source} className="error" role="alert">
          {t('The database {source} does not answer.', { source })}
        </p>
      ))}
      {sources.length === 0 ? (
        <p className="help">
          {t(
            'The settings name no database with tables: see nodley.sources. From a table of an SQLite file, nodley start --from-table begins a form.',
          )}
        </p>
      ) : (
        <p className="actions">
          <label>
            {t('Table')}{' '}
            <select
              value={value.tables.findIndex(
                ({ source, table }) => source === chosen?.source && table === chosen.table,
              )}
              onChange={({ target }) => {
                const table = value.tables[Number(target.value)];
                if (table) {
                  choose(table);
                }
              }}
            >
              <option value={-1}>{t('Choose one')}</option>
              {sources.map((source) => (
                <optgroup key={source} label={source}>
                  {value.tables.map(
                    (it, index) =>
                      it.source === source && (
                        <option key={it.table} value={index}>
                          {it.table}
                        </option>
                      ),
                  )}
                </optgroup>
              ))}
            </select>
          </label>
        </p>
      )}
    </>
  );
}
