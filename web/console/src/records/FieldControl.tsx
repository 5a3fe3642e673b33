import { Button, Checkbox, Input, Radio, Select } from 'antd';
import {
  display,
  Service,
  type Field,
  type FieldState,
  type Json,
  type OpenForm,
  type Option,
  type Values,
} from 'nodley-page';
import { options as optionsOf } from 'nodley-page/options';
import { useField, useRows } from 'nodley-react';
import { useState, useSyncExternalStore, type FocusEvent, type ReactNode } from 'react';
import { FileControl } from './FileControl';
import { useLoaded } from '../useLoaded';
import { t } from '../words';

const service = new Service();
const NONE: Values = {};

/** The id of a field's control, by the field's name as in a page. */
export function idOf(name: string): string {
  return `field-${name.replace(/[[.]/g, '-').replace(/\]/g, '')}`;
}

interface ControlsProps {
  form: string;
  fields: Field[];
  opened: OpenForm;
  /** What stands before the names of these fields: nothing, `contact.`, `crew[0].`. */
  prefix: string;
}

/** Fields side by side: those of the form, of a group, or of one row. */
export function FieldControls({ form, fields, opened, prefix }: ControlsProps) {
  return (
    <>
      {fields.map((field) => (
        <OneField
          key={prefix + field.name}
          {...{ form, field, opened }}
          name={prefix + field.name}
        />
      ))}
    </>
  );
}

/** A field, a group or rows; it is drawn anew when its own state is another. */
function OneField({ form, field, opened, name }: Omit<GroupProps, 'state'>) {
  const state = useField(opened, name);
  // What is offered for a reference may depend on any other value.
  const values = useSyncExternalStore(opened.subscribe, () =>
    field.where === undefined ? NONE : opened.typed(),
  );
  if (state.hidden) {
    return null;
  }
  if (field.fields) {
    const Set = field.type === 'rows' ? FieldRows : FieldGroup;
    return <Set {...{ form, field, opened, name, state }} />;
  }
  return (
    <FieldControl
      {...{ form, field, name, state }}
      values={values}
      set={state.set}
      leave={state.leave}
    />
  );
}

interface GroupProps {
  form: string;
  field: Field;
  name: string;
  opened: OpenForm;
  state: FieldState;
}

/** A group, with its fields in a frame. */
function FieldGroup({ form, field, name, opened, state }: GroupProps) {
  return (
    <Framed {...{ field, name, state }}>
      <FieldControls form={form} fields={field.fields ?? []} opened={opened} prefix={`${name}.`} />
    </Framed>
  );
}

/** Rows, with a way to add and remove them. */
function FieldRows({ form, field, name, opened }: GroupProps) {
  const { rows, add, ...state } = useRows(opened, name);
  return (
    <Framed {...{ field, name, state }}>
      {rows.map((row, index) => (
        <fieldset key={row.key} className="row">
          <legend>{index + 1}</legend>
          <FieldControls
            form={form}
            fields={field.fields ?? []}
            opened={opened}
            prefix={row.name('')}
          />
          {state.editable && (
            <Button
              aria-label={t('Remove {field} {number}', { field: field.label, number: index + 1 })}
              onClick={row.remove}
            >
              {t('Remove')}
            </Button>
          )}
        </fieldset>
      ))}
      {state.editable && (
        <Button onClick={add}>{field.add ?? t('Add to {field}', { field: field.label })}</Button>
      )}
    </Framed>
  );
}

function Framed({
  field,
  name,
  state,
  children,
}: Pick<GroupProps, 'field' | 'name' | 'state'> & { children: ReactNode }) {
  const id = idOf(name);
  return (
    <fieldset id={id} tabIndex={-1} className="group">
      <legend>{field.label}</legend>
      {field.help && <p className="help">{field.help}</p>}
      {children}
      <p className="error" id={`${id}-error`}>
        {state.error?.detail}
      </p>
    </fieldset>
  );
}

interface Props {
  form: string;
  field: Field;
  name: string;
  /** All typed values, for options that depend on them. */
  values: Values;
  state: FieldState;
  set: (value: Json) => void;
  leave: () => void;
}

/** One field: label, help, control, error and the state of its live check. */
function FieldControl({ form, field, name, values, state, set, leave }: Props) {
  const id = idOf(name);
  const grouped = field.control === 'radio' || field.control === 'checkboxes';
  const label = (
    <>
      {field.label}
      {state.required && state.editable && (
        <>
          {' '}
          <span className="needed" role="img" aria-label="must be filled in" />
        </>
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
      <Handle {...{ form, field, name, values, state, set, leave, label }} />
      <p className="error" id={`${id}-error`} aria-live="polite">
        {state.error?.detail}
        {state.error?.link && (
          <>
            {' '}
            <a href={state.error.link.href}>{state.error.link.text}</a>
          </>
        )}
      </p>
      <p className="state" id={`${id}-state`} role="status" data-asked={state.asked}>
        {state.said}
      </p>
    </div>
  );
}

function Handle({ label, ...props }: Props & { label: ReactNode }) {
  const { field, name, state, set, leave } = props;
  const id = idOf(name);
  const text = String(state.value ?? '');
  const status = state.error ? { status: 'error' as const } : {};
  const aria = {
    id,
    'aria-describedby': `${field.help ? `${id}-help ` : ''}${id}-error ${id}-state`,
    'aria-invalid': Boolean(state.error),
  };
  if (!state.editable) {
    return (
      <output id={id} aria-describedby={`${id}-error ${id}-state`}>
        {display(field, state.value)}
      </output>
    );
  }
  switch (field.control) {
    case 'checkboxes':
      return (
        <Checkbox.Group
          options={offered(field, state)}
          value={Array.isArray(state.value) ? (state.value as string[]) : []}
          onChange={(chosen) => set(chosen)}
          className="checkboxes"
        />
      );
    case 'file':
      return (
        <FileControl {...{ service, aria, set, leave, field, name, state, form: props.form }} />
      );
    case 'secret':
      return (
        <Input.Password
          {...aria}
          {...status}
          value={text}
          autoComplete="new-password"
          onChange={(event) => set(event.target.value)}
          onBlur={leave}
        />
      );
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
    case 'switch':
      return (
        <Checkbox
          {...aria}
          checked={state.value === true}
          onChange={(event) => set(event.target.checked)}
          onBlur={leave}
        >
          {label}
        </Checkbox>
      );
    case 'radio':
      return <Radios {...props} />;
    case 'select':
    case 'search':
      return field.refersTo ? (
        <Reference {...props} />
      ) : field.onService?.includes('options') ? (
        <Searched {...props} />
      ) : (
        <Choice {...props} options={offered(field, state)} />
      );
    default:
      return (
        <Input
          {...aria}
          {...status}
          type={field.control === 'date' || field.control === 'time' ? field.control : 'text'}
          inputMode={['number', 'slider'].includes(field.control) ? 'decimal' : 'text'}
          className={['number', 'slider', 'date', 'time'].includes(field.control) ? 'short' : ''}
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

/** The options that can be chosen just now; one that is chosen already stays. */
function offered(field: Field, state: FieldState): Option[] {
  const chosen = [state.value].flat();
  return (field.options ?? []).filter(
    ({ value, offered }) =>
      chosen.includes(value) ||
      (offered !== false && (!state.offered || state.offered.includes(value))),
  );
}

function Radios({ field, name, state, set, leave }: Props) {
  const id = idOf(name);
  const options = field.required
    ? offered(field, state)
    : [{ value: '', label: t('No answer') }, ...offered(field, state)];
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
  const path = props.name.replace(/\[\d+\]/g, '');
  // Only a reference that asks for other values need be asked again when they change.
  const values = props.field.where === undefined ? {} : props.values;
  const loaded = useLoaded(`${props.form} ${path} ${JSON.stringify(values)}`, () =>
    optionsOf(service, props.form, path, values),
  );
  return <Choice {...props} options={loaded.value ?? []} loading={loaded.loading} />;
}

/** Of many options those are listed that fit what is typed; the service looks for them. */
function Searched(props: Props) {
  const [words, setWords] = useState('');
  const { form, field, state } = props;
  const path = props.name.replace(/\[\d+\]/g, '');
  const values = field.where === undefined ? {} : props.values;
  const q = words || String(state.value ?? '');
  const loaded = useLoaded(`${form} ${path} ${q} ${JSON.stringify(values)}`, () =>
    optionsOf(service, form, path, { ...values, q }),
  );
  return (
    <Choice {...props} options={loaded.value ?? []} loading={loaded.loading} search={setWords} />
  );
}

function Choice({
  field,
  name,
  state,
  set,
  leave,
  options,
  loading,
  search,
}: Props & { options: Option[]; loading?: boolean; search?: (words: string) => void }) {
  const id = idOf(name);
  const value = String(state.value ?? '');
  return (
    <Select
      id={id}
      aria-describedby={`${id}-error ${id}-state`}
      aria-invalid={Boolean(state.error)}
      className="wide"
      value={value === '' ? null : value}
      placeholder={field.required ? t('Choose…') : t('None chosen')}
      options={options}
      loading={loading ?? false}
      allowClear={!field.required}
      showSearch={
        search ? { filterOption: false, onSearch: search } : { optionFilterProp: 'label' }
      }
      onChange={(chosen: string | null | undefined) => set(chosen ?? '')}
      onBlur={leave}
      {...(state.error && { status: 'error' as const })}
    />
  );
}
