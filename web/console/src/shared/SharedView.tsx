import { Button } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { SHARED, shared, type SharedKind } from '../form/files';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';

const NAME = /^[a-z][a-z0-9-]{0,39}$/;

export const titles = (): Record<SharedKind, string> => ({
  lists: t('Lists'),
  parts: t('Parts'),
  themes: t('Themes'),
});

/** What forms share: lists of options, parts with fields, themes; each with the forms that use it. */
export function SharedView() {
  useTitle(t('Shared'));
  const loaded = useLoaded('shared', async () =>
    Promise.all(SHARED.map(async (kind) => ({ kind, files: await shared(kind) }))),
  );
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  return (
    <>
      <h1>{t('Shared')}</h1>
      {!loaded.value && <Waiting />}
      {loaded.value?.map(({ kind, files }) => (
        <section key={kind}>
          <h2>{titles()[kind]}</h2>
          <p className="help">{about()[kind]}</p>
          {files.length > 0 && (
            <table className="plain">
              <thead>
                <tr>
                  <th scope="col">{t('Name')}</th>
                  <th scope="col">{t('Forms that use it')}</th>
                </tr>
              </thead>
              <tbody>
                {files.map(({ name, uses }) => (
                  <tr key={name}>
                    <td>
                      <Link to={`/shared/${kind}/${name}`}>{name}</Link>
                    </td>
                    <td>
                      <Uses kind={kind} name={name} uses={uses} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <Begin kind={kind} />
        </section>
      ))}
    </>
  );
}

const about = (): Record<SharedKind, string> => ({
  lists: t('Options that several fields offer: options: { list: NAME } in a form file.'),
  parts: t('Fields, or a rule, that several forms have: use: NAME in a form file.'),
  themes: t(
    'How pages look: theme: NAME in a form file. The one that is called service is for all others.',
  ),
});

/** The forms that use a file, each a link. */
export function Uses({ kind, name, uses }: { kind: SharedKind; name: string; uses: string[] }) {
  if (uses.length === 0) {
    return kind === 'themes' && name === 'service' ? t('all that name no other') : t('none');
  }
  return uses.map((form, index) => (
    <span key={form}>
      {index > 0 && ', '}
      <Link to={`/forms/${form}/file`}>{form}</Link>
    </span>
  ));
}

/** Leads to a file that is not there yet. */
function Begin({ kind }: { kind: SharedKind }) {
  const go = useNavigate();
  const [name, setName] = useState('');
  const wrong = name !== '' && !NAME.test(name);
  return (
    <form
      className="actions"
      onSubmit={(event) => {
        event.preventDefault();
        if (NAME.test(name)) {
          void go(`/shared/${kind}/${name}`);
        }
      }}
    >
      <label>
        {t('A new name')}{' '}
        <input
          value={name}
          spellCheck={false}
          aria-invalid={wrong}
          aria-describedby={`${kind}-error`}
          onChange={({ target }) => setName(target.value)}
        />
      </label>
      <Button htmlType="submit">
        {t('Begin it')}
        <span className="unseen"> {titles()[kind]}</span>
      </Button>
      <span className="error" id={`${kind}-error`} role="alert">
        {wrong && t('A small letter, then small letters, digits or hyphens.')}
      </span>
    </form>
  );
}
