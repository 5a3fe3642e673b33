import { Button, Input, Select } from 'antd';
import type { Description } from 'nodley-page';
import { useEffect, useState } from 'react';
import { t } from '../words';
import {
  conditionsOf,
  expressionOf,
  filterable,
  howsOf,
  needsValue,
  type Condition,
  type How,
} from './where';

interface Props {
  description: Description;
  /** The expression that picks the records. */
  where: string;
  /** What is wrong with it, as the service said. */
  wrong?: string;
  change: (where: string) => void;
}

function inWords(how: How): string {
  switch (how) {
    case '=':
      return t('is');
    case '!=':
      return t('is not');
    case '<':
      return t('is less than');
    case '<=':
      return t('is at most');
    case '>':
      return t('is more than');
    case '>=':
      return t('is at least');
    case 'has':
      return t('has');
    case 'blank':
      return t('is blank');
    case 'filled':
      return t('is filled in');
  }
}

/** Which records are shown: conditions that are built from controls, and the expression that they make, to be edited. */
export function Filters({ description, where, wrong, change }: Props) {
  const { fields } = description;
  const [conditions, setConditions] = useState(() => conditionsOf(where, fields));
  const [typed, setTyped] = useState(where);
  useEffect(() => {
    setTyped(where);
    setConditions((before) =>
      before && expressionOf(before, fields) === where ? before : conditionsOf(where, fields),
    );
  }, [where, fields]);
  const put = (next: Condition[]) => {
    setConditions(next);
    const expression = expressionOf(next, fields);
    setTyped(expression);
    if (expression !== where) {
      change(expression);
    }
  };
  const all = filterable(fields);
  const add = () => {
    const [{ path, field }] = all as [(typeof all)[number]];
    put([...(conditions ?? []), { field: path, how: howsOf(field)[0]!, value: '' }]);
  };
  return (
    <section className="where" aria-label={t('Filters')}>
      {conditions?.map((condition, index) => (
        <OneCondition
          key={index}
          {...{ all, condition }}
          put={(next) => put(conditions.map((it, i) => (i === index ? next : it)))}
          drop={() => put(conditions.filter((_, i) => i !== index))}
        />
      ))}
      <div className="tools">
        <Button onClick={add} disabled={conditions === undefined || all.length === 0}>
          {t('Add a filter')}
        </Button>
        {(typed !== '' || where !== '') && (
          <div className="expression">
            <label htmlFor="where">{t('As an expression')}</label>
            <Input
              id="where"
              className="code"
              value={typed}
              spellCheck={false}
              aria-invalid={wrong !== undefined}
              aria-describedby="where-error"
              {...(wrong !== undefined && { status: 'error' as const })}
              onChange={(event) => setTyped(event.target.value)}
              onBlur={() => typed !== where && change(typed.trim())}
              onPressEnter={() => change(typed.trim())}
            />
            <p id="where-error" className="error" role="alert">
              {wrong}
            </p>
          </div>
        )}
      </div>
    </section>
  );
}

interface OneProps {
  all: ReturnType<typeof filterable>;
  condition: Condition;
  put: (next: Condition) => void;
  drop: () => void;
}

function OneCondition({ all, condition, put, drop }: OneProps) {
  const { field } = all.find(({ path }) => path === condition.field) ?? all[0]!;
  const hows = howsOf(field);
  return (
    <div className="condition">
      <Select
        aria-label={t('Field')}
        showSearch
        optionFilterProp="label"
        value={condition.field}
        options={all.map(({ path, field: { label } }) => ({
          value: path,
          label: path.includes('.') ? `${label} (${path})` : label,
        }))}
        onChange={(path) => {
          const next = all.find((it) => it.path === path)!.field;
          put({ field: path, how: howsOf(next)[0]!, value: '' });
        }}
      />
      <Select
        aria-label={t('Comparison')}
        value={condition.how}
        options={hows.map((value) => ({ value, label: inWords(value) }))}
        onChange={(how) => put({ ...condition, how })}
      />
      {needsValue(condition.how) && (
        <ConditionValue
          key={condition.field}
          field={field}
          value={condition.value}
          put={(value) => put({ ...condition, value })}
        />
      )}
      <Button onClick={drop} aria-label={t('Remove the filter on {field}', { field: field.label })}>
        {t('Remove')}
      </Button>
    </div>
  );
}

interface ValueProps {
  field: Description['fields'][number];
  value: string;
  put: (value: string) => void;
}

function ConditionValue({ field, value, put }: ValueProps) {
  const [typed, setTyped] = useState(value);
  const options =
    field.type === 'boolean'
      ? [
          { value: 'true', label: t('yes') },
          { value: 'false', label: t('no') },
        ]
      : field.type !== 'text'
        ? field.options?.map(({ value: key, label }) => ({ value: key, label }))
        : undefined;
  if (options) {
    return (
      <Select
        aria-label={t('Value')}
        showSearch
        optionFilterProp="label"
        {...(value && { value })}
        options={options}
        onChange={put}
      />
    );
  }
  return (
    <Input
      aria-label={t('Value')}
      type={field.type === 'date' ? 'date' : 'text'}
      {...(/^(integer|decimal)$/.test(field.type) && { inputMode: 'decimal' as const })}
      value={typed}
      onChange={(event) => {
        setTyped(event.target.value);
        if (field.type === 'date') {
          put(event.target.value);
        }
      }}
      onBlur={() => typed !== value && put(typed.trim())}
      onPressEnter={() => put(typed.trim())}
    />
  );
}
