import { Button, Typography } from 'antd';
import { useState } from 'react';
import { signIn, type Nobody } from './api';
import { SmallForm, type Asked } from './SmallForm';
import { useTitle } from './useTitle';

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
    missing: 'The key is required.',
  },
];

/** Asks for a name and a password, or for a key; or leads to an issuer. */
export function SignIn({ issuers, done }: { issuers: Nobody['issuers']; done: () => void }) {
  const [failed, setFailed] = useState(false);
  useTitle(failed ? 'Not signed in' : 'Sign in');
  const shared = {
    send: (values: Record<string, string>) => signIn(values).then(done),
    onFailure: () => setFailed(true),
  };
  return (
    <main className="sign-in">
      <Typography.Title level={1}>Sign in to the console</Typography.Title>
      <SmallForm
        label="By password"
        asked={BY_PASSWORD}
        button="Sign in"
        errorAt="password"
        {...shared}
      />
      {issuers.map(({ label, address }) => (
        <Button key={address} block href={`${address}?to=${location.pathname}`}>
          Sign in with {label}
        </Button>
      ))}
      <Typography.Title level={2}>With a key</Typography.Title>
      <SmallForm
        label="With a key"
        asked={WITH_KEY}
        button="Sign in with the key"
        primary={false}
        errorAt="key"
        {...shared}
      />
    </main>
  );
}
