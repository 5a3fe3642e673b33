import { App, Button } from 'antd';
import type { Description, Json } from 'nodley-page';
import { minute } from '../access';
import { record, restore, versions, type Change, type Kept, type Version } from '../api';
import { useRights } from '../caller';
import { Failure, Waiting } from '../states';
import { inWords, useLoaded } from '../useLoaded';
import { t } from '../words';
import { fieldAt, shown } from './values';

interface Props {
  description: Description;
  kept: Kept;
  /** Says what came of a change of the record. */
  changed: (say: string) => void;
}

/** Who changed which field from what to what; each earlier version can be put back. */
export function History({ description, kept, changed }: Props) {
  const { form } = description;
  const { modal, message } = App.useApp();
  const rights = useRights(description);
  const loaded = useLoaded(`${form} ${kept.id} ${kept.version}`, async () => {
    const found = await versions(form, kept.id);
    return { all: found, names: await namesIn(description, found) };
  });
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (!loaded.value) {
    return <Waiting />;
  }
  const { all, names } = loaded.value;
  const back = ({ version }: Version) =>
    restore(form, kept.id, version, kept.version).then(
      () => changed(t('Version {version} is put back.', { version })),
      (failure: unknown) => void message.error(inWords(failure)),
    );
  return (
    <ol className="history" aria-label={t('Versions, the latest first')}>
      {all.map((version, index) => (
        <li key={version.version}>
          <h2>
            {t('Version {version}', { version: version.version })}
            <span className="help">
              {' '}
              {version.by
                ? t('by {who}, {time}', { who: version.by, time: minute(version.at) })
                : minute(version.at)}
            </span>
          </h2>
          <ul>
            {version.changes.map((change) => (
              <li key={change.pointer}>{sentence(description, change, names)}</li>
            ))}
          </ul>
          {index > 0 && rights.may('edit', kept) && (
            <Button
              size="small"
              onClick={() =>
                void modal.confirm({
                  title: t('Put version {version} back?', { version: version.version }),
                  content: (
                    <>
                      <p>
                        {t('It becomes the next version; what is there now stays in the history.')}
                      </p>
                      <ul>
                        {undone(all.slice(0, index)).map((change) => (
                          <li key={change.pointer}>{sentence(description, change, names)}</li>
                        ))}
                      </ul>
                    </>
                  ),
                  okText: t('Put it back'),
                  cancelText: t('Leave it'),
                  onOk: () => void back(version),
                })
              }
            >
              {t('Put version {version} back', { version: version.version })}
            </Button>
          )}
        </li>
      ))}
    </ol>
  );
}

/** What putting an earlier version back changes: all later changes, from the latest to what was before the first. */
function undone(later: Version[]): Change[] {
  const changes = new Map<string, Change>();
  for (const { changes: each } of later) {
    for (const { pointer, from, to } of each) {
      const known = changes.get(pointer);
      changes.set(pointer, { pointer, from: known ? known.from : to, to: from });
    }
  }
  return [...changes.values()].filter(
    ({ from, to }) => JSON.stringify(from) !== JSON.stringify(to),
  );
}

/** So many records that a history refers to are looked up. */
const MOST_NAMES = 50;

/** What the records are called that some versions refer to, by their ids; one that is gone or not to be seen has none. */
async function namesIn({ fields }: Description, all: Version[]): Promise<Map<string, string>> {
  const wanted = new Map<string, string>();
  for (const { pointer, from, to } of all.flatMap(({ changes }) => changes)) {
    const other = fieldAt(fields, pointer)?.field.refersTo;
    for (const id of other ? [from, to] : []) {
      if (typeof id === 'string' && wanted.size < MOST_NAMES) {
        wanted.set(id, other!);
      }
    }
  }
  const found = await Promise.allSettled(
    [...wanted].map(async ([id, other]) => [id, (await record(other, id)).called] as const),
  );
  return new Map(found.flatMap((it) => (it.status === 'fulfilled' ? [it.value] : [])));
}

function sentence(
  { fields }: Description,
  { pointer, from, to }: Change,
  names: Map<string, string>,
): string {
  const found = fieldAt(fields, pointer);
  const label = found?.label ?? pointer.replace(/^#\//, '');
  const value = (it: Json) =>
    names.get(String(it)) ?? (found ? shown(found.field, it) : String(it ?? ''));
  if (from === null || from === undefined) {
    return t('{field}: {value}', { field: label, value: value(to) });
  }
  if (to === null || to === undefined) {
    return t('{field}: was {value}, is blank now', { field: label, value: value(from) });
  }
  return t('{field}: from {from} to {to}', { field: label, from: value(from), to: value(to) });
}
