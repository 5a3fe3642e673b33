import { App, Button, ConfigProvider, theme } from 'antd';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, Navigate, Route, Routes } from 'react-router';
import { signOut, whoAmI } from './api';
import { CallerContext, hasRole } from './caller';
import { FormsView } from './overview/FormsView';
import { NONCE } from './nonce';
import { useLoaded } from './useLoaded';
import { Failure, Waiting } from './states';
import { CHOICES, choose, language, locale, t, type Language } from './words';

// The first view needs none of these.
const AttemptsView = lazy(() =>
  import('./attempts/AttemptsView').then((it) => ({ default: it.AttemptsView })),
);
const AttemptView = lazy(() =>
  import('./attempts/AttemptView').then((it) => ({ default: it.AttemptView })),
);
const DeliveriesView = lazy(() =>
  import('./DeliveriesView').then((it) => ({ default: it.DeliveriesView })),
);
const FormView = lazy(() => import('./form/FormView').then((it) => ({ default: it.FormView })));
const NewForm = lazy(() => import('./form/NewForm').then((it) => ({ default: it.NewForm })));
const KeysView = lazy(() => import('./KeysView').then((it) => ({ default: it.KeysView })));
const PeopleView = lazy(() => import('./PeopleView').then((it) => ({ default: it.PeopleView })));
const ServiceView = lazy(() =>
  import('./service/ServiceView').then((it) => ({ default: it.ServiceView })),
);
const SharedView = lazy(() =>
  import('./shared/SharedView').then((it) => ({ default: it.SharedView })),
);
const SharedFileView = lazy(() =>
  import('./shared/SharedFileView').then((it) => ({ default: it.SharedFileView })),
);
const SessionsView = lazy(() =>
  import('./SessionsView').then((it) => ({ default: it.SessionsView })),
);

const SignIn = lazy(() => import('./SignIn').then((it) => ({ default: it.SignIn })));

const DARK = window.matchMedia('(prefers-color-scheme: dark)');
const STILL = window.matchMedia('(prefers-reduced-motion: reduce)').matches;

/** The whole console: who is there, and what they look at. */
export function Console() {
  const [dark, setDark] = useState(DARK.matches);
  useEffect(() => {
    const follow = () => setDark(DARK.matches);
    DARK.addEventListener('change', follow);
    return () => DARK.removeEventListener('change', follow);
  }, []);
  return (
    <ConfigProvider
      csp={{ nonce: NONCE }}
      locale={locale()}
      theme={{
        // The styles are a file, made by antd-styles.mjs.
        zeroRuntime: true,
        algorithm: dark ? theme.darkAlgorithm : theme.defaultAlgorithm,
        token: {
          colorPrimary: dark ? '#6fc3cd' : '#0b5560',
          colorInfo: dark ? '#6fc3cd' : '#0b5560',
          colorLink: dark ? '#6fc3cd' : '#0b5560',
          colorTextDescription: dark ? '#a3b5b9' : '#526369',
          // What an empty table says stands in it.
          colorTextDisabled: dark ? '#93a5a9' : '#5f7075',
          colorTextPlaceholder: dark ? '#93a5a9' : '#5f7075',
          colorError: dark ? '#ff9b8f' : '#a3241c',
          colorSuccess: dark ? '#86d3a2' : '#1c6640',
          borderRadius: 8,
          fontSize: 15,
          motion: !STILL,
        },
        components: {
          // Upon the light colour of the dark, white could not be read.
          Button: { primaryColor: dark ? '#0d1719' : '#ffffff' },
          // A row that is chosen has its mark; a colour behind it could not be read below a dialog.
          Table: { rowSelectedBg: 'transparent', rowSelectedHoverBg: 'transparent' },
        },
      }}
    >
      <App>
        <SignedIn />
      </App>
    </ConfigProvider>
  );
}

/** The views of somebody who is signed in; before, the sign-in. */
function SignedIn() {
  const session = useLoaded('session', whoAmI);
  if (session.error) {
    return <Failure text={session.error} again={session.again} />;
  }
  if (session.value === undefined) {
    return <Waiting />;
  }
  if (session.value.caller === null) {
    return (
      <Suspense fallback={<Waiting />}>
        <SignIn issuers={session.value.issuers} done={session.again} />
      </Suspense>
    );
  }
  const caller = session.value;
  const isAdmin = caller.roles.includes('admin') && caller.forms.length === 0;
  const isAuthor = hasRole(caller, 'author');
  const isOperator = hasRole(caller, 'operator');
  const leave = () => void signOut().finally(session.again);
  return (
    <CallerContext value={session.value}>
      <div className="frame">
        <header className="top">
          <Link to="/" className="brand">
            {t('Console')}
          </Link>
          <nav aria-label={t('Views')}>
            <Link to="/">{t('Forms')}</Link>
            {isAuthor && <Link to="/attempts">{t('Attempts')}</Link>}
            {isAuthor && <Link to="/shared">{t('Shared')}</Link>}
            {isOperator && <Link to="/deliveries">{t('Deliveries')}</Link>}
            {isAdmin && <Link to="/people">{t('People')}</Link>}
            {isAdmin && <Link to="/keys">{t('Keys')}</Link>}
            <Link to="/sessions">{t('Sessions')}</Link>
            {isOperator && <Link to="/service">{t('Service')}</Link>}
          </nav>
          <nav aria-label={t('Account')}>
            <span>{t('Signed in as {name}', { name: caller.caller })}</span>
            <select
              aria-label={t('Language')}
              value={language()}
              onChange={({ target }) => choose(target.value as Language)}
            >
              {CHOICES.map(({ value, label }) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </select>
            <a href="/forms">{t('Pages')}</a>
            <Button onClick={leave}>{t('Sign out')}</Button>
          </nav>
        </header>
        <main className="content">
          <Suspense fallback={<Waiting />}>
            <Routes>
              <Route path="/" element={<FormsView />} />
              <Route path="/forms/:form" element={<FormView />} />
              <Route path="/forms/:form/:part" element={<FormView />} />
              <Route path="/forms/:form/:part/:id" element={<FormView />} />
              {isAuthor && <Route path="/new-form" element={<NewForm />} />}
              <Route path="/sessions" element={<SessionsView />} />
              {isAuthor && <Route path="/shared" element={<SharedView />} />}
              {isAuthor && <Route path="/shared/:kind/:name" element={<SharedFileView />} />}
              {isAuthor && <Route path="/attempts" element={<AttemptsView />} />}
              {isAuthor && <Route path="/attempts/:id" element={<AttemptView />} />}
              {isOperator && <Route path="/deliveries" element={<DeliveriesView />} />}
              {isOperator && <Route path="/service" element={<ServiceView />} />}
              {isAdmin && <Route path="/people" element={<PeopleView />} />}
              {isAdmin && <Route path="/keys" element={<KeysView />} />}
              <Route path="*" element={<Navigate to="/" replace />} />
            </Routes>
          </Suspense>
        </main>
      </div>
    </CallerContext>
  );
}
