import { App, Button, Drawer, Empty, Input, Table } from 'antd';
import type { Description, Field, Json } from 'nodley-page';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { records, type Kept } from './api';
import { useRights } from './caller';
import { RecordEditor } from './RecordEditor';
import { Scrolled } from './Scrolled';
import { Failure } from './states';
import { useLoaded } from './useLoaded';

const PAGE = 20;
/** How long an outcome is told. */
const SECONDS = 6;
/** So many fields beside its name say enough of a record in a list. */
const COLUMNS = 4;

/** The records of a form; adding and editing happen in a drawer, whose address is `open`. */
export function RecordsView({ description, open }: { description: Description; open?: string }) {
  const { form } = description;
  const rights = useRights(description);
  const { message, modal } = App.useApp();
  const go = useNavigate();
  const [words, setWords] = useState('');
  // The cursors of the pages up to this one; the first page has none.
  const [cursors, setCursors] = useState<string[]>(['']);
  const cursor = cursors.at(-1)!;
  const loaded = useLoaded(`${form} ${words} ${cursor}`, () => records(form, words, cursor, PAGE));
  const close = () => void go(`/forms/${form}/records`);
  const [called, setCalled] = useState('');
  const unsaved = useRef(() => false);
  const leave = () => {
    if (unsaved.current()) {
      modal.confirm({
        title: 'Leave without saving?',
        content: 'What was typed since it was last saved will be lost.',
        okText: 'Leave',
        cancelText: 'Stay',
        onOk: close,
      });
    } else {
      close();
    }
  };
  const next = loaded.value?.next;
  return (
    <>
      <div className="tools">
        <Input.Search
          aria-label="Search records"
          placeholder="Search records"
          allowClear
          onSearch={(text) => {
            setWords(text.trim());
            setCursors(['']);
          }}
        />
        {rights.may('add') && (
          <Button type="primary" onClick={() => void go(`/forms/${form}/records/new`)}>
            {description.title.add}
          </Button>
        )}
      </div>
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label="Records">
          <Table<Kept>
            rowKey="id"
            loading={loaded.loading}
            dataSource={loaded.value?.records ?? []}
            pagination={false}
            locale={{
              emptyText: (
                <Empty
                  image={Empty.PRESENTED_IMAGE_SIMPLE}
                  description={
                    words ? `No record has “${words}” in it.` : 'There are no records yet.'
                  }
                />
              ),
            }}
            columns={[
              {
                title: description.label,
                key: 'called',
                render: (_, record) => (
                  <Button
                    type="link"
                    onClick={() => void go(`/forms/${form}/records/${record.id}`)}
                  >
                    {record.called}
                  </Button>
                ),
              },
              ...columns(description).map((field) => ({
                title: field.label,
                key: field.name,
                ...(/^(integer|decimal)$/.test(field.type) && { align: 'right' as const }),
                render: (_: unknown, record: Kept) => shown(field, record.values[field.name]),
              })),
              { title: 'Version', dataIndex: 'version', align: 'right' as const },
            ]}
          />
        </Scrolled>
      )}
      <nav className="pages" aria-label="Pages of records">
        <Button disabled={cursors.length === 1} onClick={() => setCursors(cursors.slice(0, -1))}>
          Newer
        </Button>
        <Button disabled={!next} onClick={() => setCursors([...cursors, next!])}>
          Older
        </Button>
      </nav>
      <Drawer
        open={open !== undefined}
        onClose={leave}
        size="large"
        destroyOnHidden
        title={open === 'new' ? description.title.add : called}
      >
        {open !== undefined && (
          <RecordEditor
            key={open}
            description={description}
            {...(open !== 'new' && { id: open })}
            called={setCalled}
            unsaved={unsaved}
            done={(say) => {
              unsaved.current = () => false;
              void message.success(say, SECONDS);
              close();
              loaded.again();
            }}
          />
        )}
      </Drawer>
    </>
  );
}

/** The first fields that the record's name does not say already, and a line can show. */
function columns({ called, fields }: Description): Field[] {
  return fields
    .filter((field) => !called?.includes(`{${field.name}}`))
    .filter((field) => !field.refersTo && !field.fields && field.kept !== false)
    .filter((field) => !['textarea', 'secret', 'file'].includes(field.control))
    .slice(0, COLUMNS);
}

function shown(field: Field, value: Json): string {
  if (value === undefined || value === null) {
    return '';
  }
  if (typeof value === 'boolean') {
    return value ? 'yes' : 'no';
  }
  if (Array.isArray(value)) {
    return value.map((item) => shown(field, item as Json)).join(', ');
  }
  const label = field.options?.find((option) => option.value === value)?.label ?? String(value);
  return field.unit ? `${label} ${field.unit}` : label;
}
