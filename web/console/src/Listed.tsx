import { Empty, Table, type TableProps } from 'antd';
import { Scrolled } from './Scrolled';
import { Failure } from './states';
import type { Loaded } from './useLoaded';

interface Props<T> {
  label: string;
  loaded: Loaded<unknown>;
  rows: T[];
  rowKey: keyof T & string;
  /** What is said where there are none. */
  empty: string;
  columns: TableProps<T>['columns'];
}

/** A small table of what was loaded; or why it was not, or that there is nothing. */
export function Listed<T extends object>({
  label,
  loaded,
  rows,
  rowKey,
  empty,
  columns,
}: Props<T>) {
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  return (
    <Scrolled label={label}>
      <Table<T>
        rowKey={rowKey}
        size="small"
        loading={loaded.loading}
        dataSource={rows}
        pagination={false}
        locale={{
          emptyText: <Empty image={Empty.PRESENTED_IMAGE_SIMPLE} description={empty} />,
        }}
        {...(columns && { columns })}
      />
    </Scrolled>
  );
}
