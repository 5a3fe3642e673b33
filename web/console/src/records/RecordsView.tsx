import { App, Button, Checkbox, Drawer, Empty, Input, Popover, Table } from 'antd';
import type { Description } from 'nodley-page';
import { lazy, Suspense, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { minute } from '../access';
import { records, type Kept } from '../api';
import { useRights } from '../caller';
import { Scrolled } from '../Scrolled';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useQuery } from '../useQuery';
import { t } from '../words';
import { columnsOf, remember, remembered, usual, type Column } from './columns';
import { Filters } from './Filters';
import { at, shown } from './values';

const RecordPanel = lazy(() => import('./RecordPanel').then((it) => ({ default: it.RecordPanel })));
const RemovedRecords = lazy(() =>
  import('./RemovedRecords').then((it) => ({ default: it.RemovedRecords })),
);
const ChangeMany = lazy(() => import('./ChangeMany').then((it) => ({ default: it.ChangeMany })));

const PAGE = 20;
/** How long an outcome is told. */
const SECONDS = 6;

/** The records of a form; adding and looking at one happen in a drawer, whose address is `open`. */
export function RecordsView({ description, open }: { description: Description; open?: string }) {
  const { form } = description;
  const rights = useRights(description);
  const { message, modal } = App.useApp();
  const go = useNavigate();
  const query = useQuery();
  const asked = {
    q: query.get('q'),
    where: query.get('where'),
    sort: query.get('sort'),
    cursor: query.get('cursor'),
    limit: String(PAGE),
  };
  // The cursors of the pages before this one, as far as they were gone through here.
  const before = useRef<string[]>([]);
  const loaded = useLoaded(`${form} ${JSON.stringify(asked)}`, () => records(form, asked));
  const [chosen, setChosen] = useState<Kept[]>([]);
  const [changing, setChanging] = useState(false);
  const [called, setCalled] = useState('');
  const unsaved = useRef(() => false);

  /** Another list begins at its first page. */
  const ask = (values: Record<string, string>) => {
    before.current = [];
    setChosen([]);
    query.set({ cursor: '', ...values });
  };
  const address = (id?: string) => {
    const rest = new URLSearchParams(location.search);
    rest.delete('show');
    return `/forms/${form}/records${id === undefined ? '' : `/${id}`}${rest.size ? `?${rest}` : ''}`;
  };
  const close = () => void go(address());
  const leave = () => {
    if (unsaved.current()) {
      modal.confirm({
        title: t('Leave without saving?'),
        content: t('What was typed since it was last saved will be lost.'),
        okText: t('Leave'),
        cancelText: t('Stay'),
        onOk: close,
      });
    } else {
      close();
    }
  };
  const next = loaded.value?.next;
  const all = columnsOf(description);
  const wanted = query.get('columns').split(',').filter(Boolean);
  const columns = wanted.length ? wanted : (remembered(form) ?? usual(description));
  const wrong = loaded.error && asked.where ? loaded.error : undefined;
  return (
    <>
      <div className="tools">
        <Input.Search
          aria-label={t('Search records')}
          placeholder={t('Search records')}
          allowClear
          defaultValue={asked.q}
          onSearch={(text) => ask({ q: text.trim() })}
        />
        <span className="actions">
          <Popover
            trigger="click"
            placement="bottomRight"
            content={
              <Checkbox.Group
                className="columns"
                value={columns}
                onChange={(values) => {
                  const kept = all.map(({ path }) => path).filter((path) => values.includes(path));
                  remember(form, kept);
                  query.set({ columns: kept.join(',') });
                }}
                options={all.map(({ path, title }) => ({ value: path, label: title }))}
              />
            }
          >
            <Button>{t('Columns')}</Button>
          </Popover>
          {chosen.length > 0 && (
            <Button onClick={() => setChanging(true)}>
              {t('Change those chosen ({count})', { count: chosen.length })}
            </Button>
          )}
          {rights.may('remove') && (
            <Button onClick={() => query.set({ removed: 'yes' })}>{t('Removed')}</Button>
          )}
          {rights.may('add') && (
            <Button type="primary" onClick={() => void go(address('new'))}>
              {description.title.add}
            </Button>
          )}
        </span>
      </div>
      <Filters
        description={description}
        where={asked.where}
        {...(wrong !== undefined && { wrong })}
        change={(where) => ask({ where })}
      />
      {loaded.error && wrong === undefined ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label={t('Records')}>
          <Table<Kept>
            rowKey="id"
            loading={loaded.loading}
            dataSource={wrong === undefined ? (loaded.value?.records ?? []) : []}
            pagination={false}
            {...(rights.may('edit') && {
              rowSelection: {
                selectedRowKeys: chosen.map(({ id }) => id),
                onChange: (_: unknown, rows: Kept[]) => setChosen(rows),
                preserveSelectedRowKeys: true,
                getCheckboxProps: (record: Kept) => ({
                  'aria-label': t('Choose {name}', { name: record.called }),
                }),
                getTitleCheckboxProps: () => ({ 'aria-label': t('Choose all of this page') }),
              },
            })}
            locale={{
              emptyText: (
                <Empty
                  image={Empty.PRESENTED_IMAGE_SIMPLE}
                  description={
                    asked.where
                      ? t('No record is as the filters say.')
                      : asked.q
                        ? t('No record has “{words}” in it.', { words: asked.q })
                        : t('There are no records yet. The first one that is added stands here.')
                  }
                />
              ),
            }}
            onChange={(_, __, sorter) => {
              const { columnKey, order } = Array.isArray(sorter) ? sorter[0]! : sorter;
              const column = all.find(({ path }) => path === columnKey);
              ask({
                sort: order && column?.sort ? (order === 'descend' ? '-' : '') + column.sort : '',
              });
            }}
            columns={[
              {
                title: description.label,
                key: 'called',
                render: (_, record) => (
                  <Button type="link" onClick={() => void go(address(record.id))}>
                    {clipped(record.called)}
                  </Button>
                ),
              },
              ...all
                .filter(({ path }) => columns.includes(path))
                .map((column) => ({
                  title: column.title,
                  key: column.path,
                  ...(right(column) && { align: 'right' as const }),
                  ...(column.sort !== undefined && {
                    sorter: true,
                    sortOrder: orderOf(asked.sort, column.sort),
                  }),
                  render: (_: unknown, record: Kept) => clipped(cell(column, record)),
                })),
            ]}
          />
        </Scrolled>
      )}
      <nav className="pages" aria-label={t('Pages of records')}>
        <Button
          disabled={!asked.cursor}
          onClick={() => query.set({ cursor: before.current.pop() ?? '' })}
        >
          {before.current.length > 0 || !asked.cursor ? t('Page before') : t('First page')}
        </Button>
        <Button
          disabled={!next}
          onClick={() => {
            before.current.push(asked.cursor);
            query.set({ cursor: next! });
          }}
        >
          {t('Next page')}
        </Button>
      </nav>
      <Drawer
        open={query.get('removed') !== ''}
        onClose={() => query.set({ removed: '' })}
        size="large"
        destroyOnHidden
        title={t('Removed records')}
      >
        <Suspense fallback={<Waiting />}>
          <RemovedRecords form={form} changed={loaded.again} />
        </Suspense>
      </Drawer>
      <Drawer
        open={open !== undefined}
        onClose={leave}
        size="large"
        destroyOnHidden
        title={open === 'new' ? description.title.add : called}
      >
        {open !== undefined && (
          <Suspense fallback={<Waiting />}>
            <RecordPanel
              key={open}
              description={description}
              {...(open !== 'new' && { id: open })}
              called={setCalled}
              unsaved={unsaved}
              done={(say, stay) => {
                unsaved.current = () => false;
                void message.success(say, SECONDS);
                if (!stay) {
                  close();
                }
                loaded.again();
              }}
            />
          </Suspense>
        )}
      </Drawer>
      {changing && (
        <Suspense fallback={<Waiting />}>
          <ChangeMany
            description={description}
            records={chosen}
            close={(changed) => {
              setChanging(false);
              if (changed) {
                setChosen([]);
                loaded.again();
              }
            }}
          />
        </Suspense>
      )}
    </>
  );
}

function right({ path, field }: Column): boolean {
  return path === 'version' || /^(integer|decimal)$/.test(field?.type ?? '');
}

function orderOf(sort: string, path: string): 'ascend' | 'descend' | null {
  return sort === path ? 'ascend' : sort === `-${path}` ? 'descend' : null;
}

/** A text of more characters is cut off after two lines, so that it leaves the other columns their place. */
const SHORT = 40;

function clipped(text: string) {
  return text.length > SHORT ? (
    <span className="clipped" title={text}>
      {text}
    </span>
  ) : (
    text
  );
}

function cell({ path, field }: Column, record: Kept): string {
  if (field) {
    return shown(field, at(record.values, path));
  }
  switch (path) {
    case 'changed':
      return minute(record.updatedAt);
    case 'created':
      return minute(record.createdAt);
    case 'confirmed':
      return record.confirmedAt ? minute(record.confirmedAt) : '';
    default:
      return String(record.version);
  }
}
