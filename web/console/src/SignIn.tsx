import { Button, Input, Typography } from 'antd';
import { useState, type FormEvent } from 'react';
import { signIn } from './api';
import { inWords } from './useLoaded';
import { useTitle } from './useTitle';

/** Asks for the key. */
export function SignIn({ done }: { done: () => void }) {
  const [key, setKey] = useState('');
  const [error, setError] = useState('');
  const [working, setWorking] = useState(false);
  useTitle(error ? 'Not signed in' : 'Sign in');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (working) {
      return;
    }
    if (!key.trim()) {
      setError('The key is required.');
      return;
    }
    setWorking(true);
    try {
      await signIn(key.trim());
      done();
    } catch (failure) {
      setError(inWords(failure));
      document.getElementById('key')?.focus();
    } finally {
      setWorking(false);
    }
  };
  return (
    <main className="sign-in">
      <Typography.Title level={1}>Sign in to the console</Typography.Title>
      <form onSubmit={(event) => void submit(event)} noValidate>
        <label htmlFor="key">Key</label>
        <p id="key-help" className="help">
          The key that the service showed when it was first started, or one that an admin has made.
        </p>
        <Input.Password
          id="key"
          value={key}
          autoComplete="current-password"
          onChange={(event) => {
            setKey(event.target.value);
            setError('');
          }}
          aria-describedby="key-help key-error"
          aria-invalid={error !== ''}
          {...(error && { status: 'error' as const })}
        />
        <p id="key-error" className="error" role="alert">
          {error}
        </p>
        <Button type="primary" htmlType="submit" loading={working}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
