import { Table } from 'antd';
import { Scrolled } from '../Scrolled';
import type { Description, End, Field, Span } from 'nodley-page';
import { t } from '../words';

/** The fields of a form and their rules, as the page gets them. */
export function FieldsTable({ description }: { description: Description }) {
  return (
    <Scrolled label={t('Fields')}>
      <Table<Field>
        rowKey="name"
        dataSource={flat(description.fields)}
        pagination={false}
        columns={[
          { title: t('Label'), dataIndex: 'label' },
          { title: t('Field'), key: 'name', render: (_, field) => <code>{field.name}</code> },
          { title: t('Type'), dataIndex: 'type' },
          { title: t('Rules'), key: 'rules', render: (_, field) => rules(field).join(', ') || '—' },
        ]}
      />
    </Scrolled>
  );
}

function rules(field: Field): string[] {
  const rules: string[] = [];
  if (field.required !== false) {
    rules.push(field.required === true ? 'required' : 'required at times');
  }
  if (field.shown !== undefined) {
    rules.push('shown at times');
  }
  if (field.compute !== undefined) {
    rules.push('computed');
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
  if (field.count) {
    rules.push(`count ${span(field.count)}`);
  }
  if (field.decimals !== undefined) {
    rules.push(`decimals ${field.decimals}`);
  }
  if (field.repeats) {
    rules.push(`repeats ${field.repeats}`);
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
    const values = field.options.map((option) => option.value).join(', ');
    rules.push(`${field.type === 'text' ? 'suggests' : 'one of'} ${values}`);
  }
  return rules;
}

function span({ min, max }: Span<End>): string {
  return `${end(min)}..${end(max)}`;
}

function end(it: End | undefined): string {
  if (typeof it !== 'object') {
    return String(it ?? '');
  }
  const days = it[0] === 'today' ? it[1] : 0;
  return days ? `today ${days < 0 ? '−' : '+'} ${Math.abs(days)}` : it[0];
}

/** Fields inside groups and rows follow the one that they are in. */
function flat(fields: Field[], prefix = ''): Field[] {
  return fields.flatMap((field) => {
    const name = prefix + field.name;
    return [{ ...field, name }, ...flat(field.fields ?? [], `${name}.`)];
  });
}
