import { Button, Typography } from 'antd';
import { useState } from 'react';
import { signIn, type Nobody } from './api';
import { SmallForm, type Asked } from './SmallForm';
import { useTitle } from './useTitle';
import { t } from './words';

const byPassword = (): Asked[] => [
  {
    name: 'name',
    label: t('Name or e-mail address'),
    autoComplete: 'username',
    missing: t('The name is required.'),
  },
  {
    name: 'password',
    label: t('Password'),
    secret: true,
    autoComplete: 'current-password',
    missing: t('The password is required.'),
  },
];

const withKey = (): Asked[] => [
  {
    name: 'key',
    label: t('Key'),
    help: t('Such as the one that the service showed when it was first started.'),
    secret: true,
    missing: t('The key is required.'),
  },
];

/** Asks for a name and a password, or for a key; or leads to an issuer. */
export function SignIn({ issuers, done }: { issuers: Nobody['issuers']; done: () => void }) {
  const [failed, setFailed] = useState(false);
  useTitle(failed ? t('Not signed in') : t('Sign in'));
  const shared = {
    send: (values: Record<string, string>) => signIn(values).then(done),
    onFailure: () => setFailed(true),
  };
  return (
    <main className="sign-in">
      <Typography.Title level={1}>{t('Sign in to the console')}</Typography.Title>
      <SmallForm
        label={t('By password')}
        asked={byPassword()}
        button={t('Sign in')}
        errorAt="password"
        {...shared}
      />
      {issuers.map(({ label, address }) => (
        <Button key={address} block href={`${address}?to=${location.pathname}`}>
          {t('Sign in with {label}', { label })}
        </Button>
      ))}
      <Typography.Title level={2}>{t('With a key')}</Typography.Title>
      <SmallForm
        label={t('With a key')}
        asked={withKey()}
        button={t('Sign in with the key')}
        primary={false}
        errorAt="key"
        {...shared}
      />
    </main>
  );
}
