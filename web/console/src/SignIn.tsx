import { Button, Input, Typography } from 'antd';
import { useState, type FormEvent } from 'react';
import { signIn } from './api';
import { inWords } from './useLoaded';
import { useTitle } from './useTitle';

interface Asked {
  name: string;
  label: string;
  help?: string;
  secret?: boolean;
  autoComplete: string;
  /** Said where it is left blank. */
  missing: string;
}

const BY_PASSWORD: Asked[] = [
  {
    name: 'name',
    label: 'Name or e-mail address',
    autoComplete: 'username',
    missing: 'The name is required.',
  },
  {
    name: 'password',
    label: 'Password',
    secret: true,
    autoComplete: 'current-password',
    missing: 'The password is required.',
  },
];

const WITH_KEY: Asked[] = [
  {
    name: 'key',
    label: 'Key',
    help: 'Such as the one that the service showed when it was first started.',
    secret: true,
    autoComplete: 'off',
    missing: 'The key is required.',
  },
];

/** Asks for a name and a password, or for a key. */
export function SignIn({ done }: { done: () => void }) {
  const [failed, setFailed] = useState(false);
  useTitle(failed ? 'Not signed in' : 'Sign in');
  return (
    <main className="sign-in">
      <Typography.Title level={1}>Sign in to the console</Typography.Title>
      <Way asked={BY_PASSWORD} button="Sign in" primary done={done} onFailure={setFailed} />
      <Typography.Title level={2}>With a key</Typography.Title>
      <Way asked={WITH_KEY} button="Sign in with the key" done={done} onFailure={setFailed} />
    </main>
  );
}

interface WayProps {
  asked: Asked[];
  button: string;
  primary?: boolean;
  done: () => void;
  onFailure: (failed: boolean) => void;
}

/** One way to sign in: what it asks for, and what is wrong with that. */
function Way({ asked, button, primary = false, done, onFailure }: WayProps) {
  const [values, setValues] = useState<Record<string, string>>({});
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [working, setWorking] = useState(false);
  const fail = (next: Record<string, string>) => {
    setErrors(next);
    onFailure(true);
    document.getElementById(Object.keys(next)[0]!)?.focus();
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (working) {
      return;
    }
    const missing = asked.filter(({ name }) => !values[name]?.trim());
    if (missing.length) {
      fail(Object.fromEntries(missing.map((it) => [it.name, it.missing])));
      return;
    }
    setWorking(true);
    try {
      await signIn(values);
      done();
    } catch (failure) {
      fail({ [asked.at(-1)!.name]: inWords(failure) });
    } finally {
      setWorking(false);
    }
  };
  return (
    <form onSubmit={(event) => void submit(event)} noValidate>
      {asked.map(({ name, label, help, secret, autoComplete }) => {
        const Control = secret ? Input.Password : Input;
        const error = errors[name] ?? '';
        return (
          <div key={name}>
            <label htmlFor={name}>{label}</label>
            {help && (
              <p id={`${name}-help`} className="help">
                {help}
              </p>
            )}
            <Control
              id={name}
              value={values[name] ?? ''}
              autoComplete={autoComplete}
              onChange={(event) => {
                setValues({ ...values, [name]: event.target.value });
                setErrors({ ...errors, [name]: '' });
              }}
              aria-describedby={help ? `${name}-help ${name}-error` : `${name}-error`}
              aria-invalid={error !== ''}
              {...(error && { status: 'error' as const })}
            />
            <p id={`${name}-error`} className="error" role="alert">
              {error}
            </p>
          </div>
        );
      })}
      <Button type={primary ? 'primary' : 'default'} htmlType="submit" loading={working}>
        {button}
      </Button>
    </form>
  );
}
