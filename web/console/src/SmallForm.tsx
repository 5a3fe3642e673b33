import { Alert, Button, Input } from 'antd';
import { useState, type FormEvent } from 'react';
import { Refusal } from 'nodley-page';
import { inWords } from './useLoaded';

export interface Asked {
  name: string;
  label: string;
  help?: string;
}

interface Props {
  label: string;
  asked: Asked[];
  button: string;
  /** Sends what was typed; what it throws is told at its field. */
  send: (values: Record<string, string>) => Promise<void>;
}

/** A few texts that are sent together; each error stands at its field. */
export function SmallForm({ label, asked, button, send }: Props) {
  const [values, setValues] = useState<Record<string, string>>({});
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [working, setWorking] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (working) {
      return;
    }
    setWorking(true);
    try {
      await send(Object.fromEntries(asked.map(({ name }) => [name, values[name]?.trim() ?? ''])));
      setValues({});
      setErrors({});
    } catch (failure) {
      const told = byName(failure, asked);
      setErrors(told);
      const first = asked.find(({ name }) => told[name]);
      document.getElementById(`${label}-${first?.name}`)?.focus();
    } finally {
      setWorking(false);
    }
  };
  return (
    <form className="small" aria-label={label} onSubmit={(event) => void submit(event)} noValidate>
      {asked.map(({ name, label: text, help }) => {
        const id = `${label}-${name}`;
        const error = errors[name] ?? '';
        return (
          <div key={name}>
            <label htmlFor={id}>{text}</label>
            <Input
              id={id}
              value={values[name] ?? ''}
              autoComplete="off"
              onChange={(event) => {
                setValues({ ...values, [name]: event.target.value });
                setErrors({ ...errors, [name]: '' });
              }}
              aria-describedby={help ? `${id}-help ${id}-error` : `${id}-error`}
              aria-invalid={error !== ''}
              {...(error && { status: 'error' as const })}
            />
            {help && (
              <p id={`${id}-help`} className="help">
                {help}
              </p>
            )}
            <p id={`${id}-error`} className="error" role="alert">
              {error}
            </p>
          </div>
        );
      })}
      {errors[''] && <Alert type="error" showIcon title={errors['']} />}
      <Button type="primary" htmlType="submit" loading={working}>
        {button}
      </Button>
    </form>
  );
}

/** The errors of a refusal by the name of the field; what is of none stands under ''. */
function byName(failure: unknown, asked: Asked[]): Record<string, string> {
  const told: Record<string, string> = {};
  if (failure instanceof Refusal) {
    for (const { pointer, detail } of failure.problem.errors ?? []) {
      const name = pointer.replace(/^#\//, '');
      told[asked.some((it) => it.name === name) ? name : ''] ??= detail;
    }
  }
  return Object.keys(told).length ? told : { '': inWords(failure) };
}
