import { Checkbox, Input, Radio, Select } from 'antd';
import { Service, type Field, type FieldState, type Json, type Option } from 'nodley-page';
import type { FocusEvent } from 'react';
import { useLoaded } from './useLoaded';

const service = new Service();

interface Props {
  form: string;
  field: Field;
  state: FieldState;
  set: (value: Json) => void;
  leave: () => void;
}

/** One field: label, help, control, error and the state of its live check. */
export function FieldControl({ form, field, state, set, leave }: Props) {
  const id = `field-${field.name}`;
  const grouped = field.control === 'radio';
  const label = (
    <>
      {field.label}
      {!field.required && field.control !== 'checkbox' && (
        <span className="optional"> · optional</span>
      )}
    </>
  );
  return (
    <div className={state.error ? 'field wrong' : 'field'}>
      {grouped && (
        <span className="label" id={`${id}-label`}>
          {label}
        </span>
      )}
      {!grouped && field.control !== 'checkbox' && (
        <label className="label" htmlFor={id}>
          {label}
        </label>
      )}
      {field.help && (
        <p className="help" id={`${id}-help`}>
          {field.help}
        </p>
      )}
      <Handle {...{ form, field, state, set, leave }} />
      <p className="error" id={`${id}-error`}>
        {state.error?.detail}
      </p>
      <p className="state" id={`${id}-state`} role="status" data-asked={state.asked}>
        {state.said}
      </p>
    </div>
  );
}

function Handle({ form, field, state, set, leave }: Props) {
  const id = `field-${field.name}`;
  const text = String(state.value ?? '');
  const status = state.error ? { status: 'error' as const } : {};
  const aria = {
    id,
    'aria-describedby': `${field.help ? `${id}-help ` : ''}${id}-error ${id}-state`,
    'aria-invalid': Boolean(state.error),
  };
  switch (field.control) {
    case 'textarea':
      return (
        <Input.TextArea
          {...aria}
          {...status}
          rows={4}
          value={text}
          placeholder={field.placeholder ?? ''}
          onChange={(event) => set(event.target.value)}
          onBlur={leave}
        />
      );
    case 'checkbox':
      return (
        <Checkbox
          {...aria}
          checked={state.value === true}
          onChange={(event) => set(event.target.checked)}
          onBlur={leave}
        >
          {field.label}
        </Checkbox>
      );
    case 'radio':
      return <Radios {...{ form, field, state, set, leave }} />;
    case 'select':
      return field.refersTo ? (
        <Reference {...{ form, field, state, set, leave }} />
      ) : (
        <Choice {...{ form, field, state, set, leave }} options={field.options ?? []} />
      );
    default:
      return (
        <Input
          {...aria}
          {...status}
          type={field.control === 'date' ? 'date' : 'text'}
          inputMode={field.control === 'number' ? 'decimal' : 'text'}
          className={field.control === 'number' || field.control === 'date' ? 'short' : ''}
          value={text}
          placeholder={field.placeholder ?? ''}
          suffix={field.unit ?? ''}
          autoComplete="off"
          onChange={(event) => set(event.target.value)}
          onBlur={leave}
        />
      );
  }
}

function Radios({ field, state, set, leave }: Props) {
  const id = `field-${field.name}`;
  const options = field.required
    ? (field.options ?? [])
    : [{ value: '', label: 'No answer' }, ...(field.options ?? [])];
  const left = (event: FocusEvent) => {
    if (!event.currentTarget.contains(event.relatedTarget)) {
      leave();
    }
  };
  return (
    <div
      onBlur={left}
      role="radiogroup"
      aria-labelledby={`${id}-label`}
      aria-describedby={`${id}-error`}
    >
      {options.map((option, index) => (
        <Radio
          key={option.value}
          id={index === 0 ? id : `${id}-${index}`}
          name={id}
          value={option.value}
          checked={state.value === option.value}
          onChange={() => set(option.value)}
        >
          {option.label}
        </Radio>
      ))}
    </div>
  );
}

function Reference(props: Props) {
  const loaded = useLoaded(`${props.form} ${props.field.name}`, () =>
    service.options(props.form, props.field.name),
  );
  return <Choice {...props} options={loaded.value ?? []} loading={loaded.loading} />;
}

function Choice({
  field,
  state,
  set,
  leave,
  options,
  loading,
}: Props & { options: Option[]; loading?: boolean }) {
  const id = `field-${field.name}`;
  const value = String(state.value ?? '');
  return (
    <Select
      id={id}
      aria-describedby={`${id}-error ${id}-state`}
      aria-invalid={Boolean(state.error)}
      className="wide"
      value={value === '' ? null : value}
      placeholder={field.required ? 'Choose…' : 'None chosen'}
      options={options}
      loading={loading ?? false}
      allowClear={!field.required}
      showSearch={{ optionFilterProp: 'label' }}
      onChange={(chosen: string | null | undefined) => set(chosen ?? '')}
      onBlur={leave}
      {...(state.error && { status: 'error' as const })}
    />
  );
}
