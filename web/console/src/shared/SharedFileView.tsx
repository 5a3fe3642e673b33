import { Link, Navigate, useParams } from 'react-router';
import { forms } from '../api';
import { PagePreview } from '../form/PagePreview';
import { Workshop } from '../form/FileTab';
import { fileOf, SHARED, shared, sharedFileOf, type SharedKind } from '../form/files';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { titles, Uses } from './SharedView';

/** What a file that is not published begins with. */
const STARTERS: Record<SharedKind, (name: string) => string> = {
  lists: (name) => `list: ${name}\noptions:\n  - { value: first, label: First }\n`,
  parts: (name) => `part: ${name}\nfields:\n  name: { type: text, label: Name }\n`,
  themes: (name) => `theme: ${name}\n`,
};

/** One list, part or theme: its file, and the forms that use it; of a theme, a page that wears it. */
export function SharedFileView() {
  const { kind = '', name = '' } = useParams();
  return SHARED.includes(kind as SharedKind) ? (
    <SharedFile key={`${kind} ${name}`} kind={kind as SharedKind} name={name} />
  ) : (
    <Navigate to="/shared" replace />
  );
}

function SharedFile({ kind, name }: { kind: SharedKind; name: string }) {
  useTitle(name);
  const loaded = useLoaded(`${kind} ${name}`, async () => {
    const [file, all] = await Promise.all([sharedFileOf(kind, name), shared(kind)]);
    const uses = all.find((it) => it.name === name)?.uses ?? [];
    return { file, uses, ...(kind === 'themes' && file.text && { wearer: await wearer(uses) }) };
  });
  return (
    <>
      <p className="trail">
        <Link to="/shared">{t('Shared')}</Link>
      </p>
      <h1>
        {titles()[kind]}: {name}
      </h1>
      {loaded.error && <Failure text={loaded.error} again={loaded.again} />}
      {!loaded.value && !loaded.error && <Waiting />}
      {loaded.value && (
        <>
          <p>
            {t('Forms that use it')}: <Uses kind={kind} name={name} uses={loaded.value.uses} />
          </p>
          <Workshop
            key={loaded.value.file.tag || loaded.value.file.text}
            place={{ kind, name }}
            file={loaded.value.file}
            begin={loaded.value.file.text || STARTERS[kind](name)}
            again={loaded.again}
          />
          {loaded.value.wearer && (
            <PagePreview key={loaded.value.file.tag} {...loaded.value.wearer} theme={name} />
          )}
        </>
      )}
    </>
  );
}

/** A form whose page shows what a theme looks like: one that uses it, or any. */
async function wearer(
  uses: string[],
): Promise<{ form: string; text: string; type: string } | undefined> {
  const form = uses[0] ?? (await forms())[0]?.form;
  return form === undefined
    ? undefined
    : { form, ...(await fileOf({ kind: 'forms', name: form })) };
}
