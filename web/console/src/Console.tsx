import { App, Button, ConfigProvider, Layout, Spin, theme } from 'antd';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, Navigate, Route, Routes } from 'react-router';
import { signOut, whoAmI } from './api';
import { CallerContext } from './caller';
import { FormView } from './FormView';
import { FormsView } from './FormsView';
import { KeysView } from './KeysView';
import { PeopleView } from './PeopleView';
import { SessionsView } from './SessionsView';
import { SignIn } from './SignIn';
import { NONCE } from './nonce';
import { useLoaded } from './useLoaded';
import { Failure } from './states';

// Few come here, and nobody first.
const DeliveriesView = lazy(() =>
  import('./DeliveriesView').then((it) => ({ default: it.DeliveriesView })),
);

const DARK = window.matchMedia('(prefers-color-scheme: dark)');

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
      theme={{
        algorithm: dark ? theme.darkAlgorithm : theme.defaultAlgorithm,
        token: {
          colorPrimary: dark ? '#6fc3cd' : '#0b5560',
          colorLink: dark ? '#6fc3cd' : '#0b5560',
          colorTextDescription: dark ? '#a3b5b9' : '#526369',
          // What an empty table says stands in it.
          colorTextDisabled: dark ? '#93a5a9' : '#5f7075',
          colorTextPlaceholder: dark ? '#93a5a9' : '#5f7075',
          colorError: dark ? '#ff9b8f' : '#a3241c',
          colorSuccess: dark ? '#86d3a2' : '#1c6640',
          borderRadius: 8,
          fontSize: 15,
        },
        components: {
          // Upon the light colour of the dark, white could not be read.
          Button: { primaryColor: dark ? '#0d1719' : '#ffffff' },
          Layout: { headerBg: 'transparent', headerPadding: '0 32px' },
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
    return <Spin className="waiting" aria-label="Loading" />;
  }
  if (session.value.caller === null) {
    return <SignIn issuers={session.value.issuers} done={session.again} />;
  }
  const isAdmin = session.value.roles.includes('admin') && session.value.forms.length === 0;
  const isOperator = session.value.roles.some((it) => it === 'admin' || it === 'operator');
  const leave = () => void signOut().finally(session.again);
  return (
    <CallerContext value={session.value}>
      <Layout className="frame">
        <Layout.Header className="top">
          <Link to="/" className="brand">
            Console
          </Link>
          <nav aria-label="Views">
            <Link to="/">Forms</Link>
            {isAdmin && <Link to="/people">People</Link>}
            {isAdmin && <Link to="/keys">Keys</Link>}
            {isOperator && <Link to="/deliveries">Deliveries</Link>}
            <Link to="/sessions">Sessions</Link>
          </nav>
          <nav aria-label="Account">
            <span>Signed in as {session.value.caller}</span>
            <a href="/forms">Pages</a>
            <Button onClick={leave}>Sign out</Button>
          </nav>
        </Layout.Header>
        <Layout.Content className="content" role="main">
          <Routes>
            <Route path="/" element={<FormsView />} />
            <Route path="/forms/:form" element={<FormView />} />
            <Route path="/forms/:form/:part" element={<FormView />} />
            <Route path="/forms/:form/:part/:id" element={<FormView />} />
            <Route path="/sessions" element={<SessionsView />} />
            {isOperator && (
              <Route
                path="/deliveries"
                element={
                  <Suspense fallback={<Spin className="waiting" aria-label="Loading" />}>
                    <DeliveriesView />
                  </Suspense>
                }
              />
            )}
            {isAdmin && <Route path="/people" element={<PeopleView />} />}
            {isAdmin && <Route path="/keys" element={<KeysView />} />}
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </Layout.Content>
      </Layout>
    </CallerContext>
  );
}
