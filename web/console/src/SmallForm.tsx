import { Alert, Button, Input } from 'antd';
import { Refusal } from 'nodley-page';
import { useState, type FormEvent } from 'react';
import { inWords } from './useLoaded';

/** One text that is asked for. */
export interface Asked {
  /** Its name in what is sent; with the form's prefix, the id of its control. */
  name: string;
  label: string;
  help?: string;
  secret?: boolean;
  autoComplete?: string;
  /** Said where it is left blank; left out, it may be. */
  missing?: string;
}

interface Props {
  label: string;
  /** Stands before the names in the ids of the controls. */
  prefix?: string;
  asked: Asked[];
  /** What stands in the fields at first. */
  initial?: Record<string, string>;
  button: string;
  primary?: boolean;
  /** Sends what was typed; what it throws is told at its field. */
  send: (values: Record<string, string>) => Promise<void>;
  /** The field at which an error stands that is of none; left out, it stands above the button. */
  errorAt?: string;
  onFailure?: () => void;
}

/** A few texts that are sent together; each error stands at its field, and is gone to. */
export function SmallForm(props: Props) {
  const {
    label,
    prefix = '',
    asked,
    initial = {},
    button,
    primary = true,
    send,
    errorAt = '',
  } = props;
  const [values, setValues] = useState(initial);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [working, setWorking] = useState(false);
  const fail = (told: Record<string, string>) => {
    setErrors(told);
    props.onFailure?.();
    const first = asked.find(({ name }) => told[name]);
    document.getElementById(`${prefix}${first?.name}`)?.focus();
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (working) {
      return;
    }
    const missing = asked.filter((it) => it.missing && !values[it.name]?.trim());
    if (missing.length) {
      fail(Object.fromEntries(missing.map((it) => [it.name, it.missing!])));
      return;
    }
    setWorking(true);
    try {
      await send(Object.fromEntries(asked.map((it) => [it.name, typed(it, values)])));
      setValues(initial);
      setErrors({});
    } catch (failure) {
      fail(byName(failure, asked, errorAt));
    } finally {
      setWorking(false);
    }
  };
  return (
    <form className="small" aria-label={label} onSubmit={(event) => void submit(event)} noValidate>
      {asked.map(({ name, label: text, help, secret, autoComplete = 'off' }) => {
        const id = prefix + name;
        const error = errors[name] ?? '';
        const Control = secret ? Input.Password : Input;
        return (
          <div key={name}>
            <label htmlFor={id}>{text}</label>
            {help && (
              <p id={`${id}-help`} className="help">
                {help}
              </p>
            )}
            <Control
              id={id}
              value={values[name] ?? ''}
              autoComplete={autoComplete}
              onChange={(event) => {
                setValues({ ...values, [name]: event.target.value });
                setErrors({ ...errors, [name]: '' });
              }}
              aria-describedby={help ? `${id}-help ${id}-error` : `${id}-error`}
              aria-invalid={error !== ''}
              {...(error && { status: 'error' as const })}
            />
            <p id={`${id}-error`} className="error" role="alert">
              {error}
            </p>
          </div>
        );
      })}
      {errors[''] && <Alert type="error" showIcon title={errors['']} />}
      <Button type={primary ? 'primary' : 'default'} htmlType="submit" loading={working}>
        {button}
      </Button>
    </form>
  );
}

/** A secret is sent as it was typed. */
function typed({ name, secret }: Asked, values: Record<string, string>): string {
  const text = values[name] ?? '';
  return secret ? text : text.trim();
}

/** The errors of a refusal by the name of the field; what is of none stands at `otherwise`. */
function byName(failure: unknown, asked: Asked[], otherwise: string): Record<string, string> {
  const told: Record<string, string> = {};
  if (failure instanceof Refusal) {
    for (const { pointer, detail } of failure.problem.errors ?? []) {
      const name = pointer.replace(/^#\//, '');
      told[asked.some((it) => it.name === name) ? name : otherwise] ??= detail;
    }
  }
  return Object.keys(told).length ? told : { [otherwise]: inWords(failure) };
}
