import { Empty, Input, Table, type TableProps } from 'antd';
import { useState } from 'react';
import { Scrolled } from './Scrolled';
import { Failure } from './states';
import type { Loaded } from './useLoaded';
import { useQuery } from './useQuery';
import { t } from './words';

interface Props<T> {
  /** What the table is called. */
  label: string;
  loaded: Loaded<T[]>;
  rowKey: keyof T & string;
  /** What of a row is searched. */
  texts: (row: T) => string[];
  /** What is said where there are none. */
  empty: string;
  columns: TableProps<T>['columns'];
}

/** A table of what was loaded whole, and a search in it; what is searched for stands in the address. */
export function Searched<T extends object>(props: Props<T>) {
  const { label, loaded, rowKey, texts, empty, columns } = props;
  const query = useQuery();
  // The address follows a moment later, too late for what is typed quickly.
  const [wanted, setWanted] = useState(query.get('q'));
  const all = loaded.value ?? [];
  const parts = folded(wanted).split(/\s+/).filter(Boolean);
  const found = all.filter((row) => {
    const text = folded(texts(row).join(' '));
    return parts.every((part) => text.includes(part));
  });
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  return (
    <>
      <div className="tools">
        <Input
          type="search"
          aria-label={t('Search: {what}', { what: label })}
          placeholder={t('Search')}
          allowClear
          value={wanted}
          onChange={({ target }) => {
            setWanted(target.value);
            query.type({ q: target.value });
          }}
        />
        <span role="status">
          {wanted && t('{count} of {all}', { count: found.length, all: all.length })}
        </span>
      </div>
      <Scrolled label={label}>
        <Table<T>
          rowKey={rowKey}
          loading={loaded.loading}
          dataSource={found}
          pagination={{ hideOnSinglePage: true, pageSize: 50, showSizeChanger: false }}
          locale={{
            emptyText: (
              <Empty
                image={Empty.PRESENTED_IMAGE_SIMPLE}
                description={all.length ? t('Nothing has these words.') : empty}
              />
            ),
          }}
          {...(columns && { columns })}
        />
      </Scrolled>
    </>
  );
}

/** Without capitals and marks: who types "Jorg" finds Jörg. */
function folded(text: string): string {
  return text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
}
