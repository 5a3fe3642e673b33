import { Table } from 'antd';
import type { Description, Field, Span } from 'nodley-page';

/** The fields of a form and their rules, as the page gets them. */
export function FieldsTable({ description }: { description: Description }) {
  return (
    <Table<Field>
      rowKey="name"
      dataSource={description.fields}
      pagination={false}
      scroll={{ x: true }}
      columns={[
        { title: 'Label', dataIndex: 'label' },
        { title: 'Field', key: 'name', render: (_, field) => <code>{field.name}</code> },
        { title: 'Type', dataIndex: 'type' },
        { title: 'Rules', key: 'rules', render: (_, field) => rules(field).join(', ') || '—' },
      ]}
    />
  );
}

function rules(field: Field): string[] {
  const rules: string[] = [];
  if (field.required) {
    rules.push('required');
  }
  if (field.unique) {
    rules.push('unique');
  }
  if (field.length) {
    rules.push(`length ${span(field.length)}`);
  }
  if (field.range) {
    rules.push(`range ${span(field.range)}`);
  }
  if (field.step !== undefined) {
    rules.push(`step ${field.step}`);
  }
  if (field.pattern) {
    rules.push('pattern');
  }
  if (field.refersTo) {
    rules.push(`a record of ${field.refersTo}`);
  }
  if (field.options) {
    rules.push(`one of ${field.options.map((option) => option.value).join(', ')}`);
  }
  return rules;
}

function span({ min, max }: Span<number | string>): string {
  return `${min ?? ''}..${max ?? ''}`;
}
