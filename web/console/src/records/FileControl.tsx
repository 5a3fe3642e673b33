import { Button, Progress } from 'antd';
import type { Field, FieldState, Json, Service } from 'nodley-page';
import { NAMES } from 'nodley-page/file-refs';
import { NotTaken, upload } from 'nodley-page/upload';
import { useRef, useState } from 'react';
import { t } from '../words';

interface Props {
  service: Service;
  form: string;
  field: Field;
  name: string;
  state: FieldState;
  aria: Record<string, unknown>;
  set: (value: Json) => void;
  leave: () => void;
}

/** A file that goes up. */
interface Going {
  name: string;
  /** How much of it the service has, of 100. */
  percent: number;
  stop: AbortController;
}

/** What a value refers to; several where the field has a count. */
const refs = (value: Json): string[] =>
  [value ?? []].flat().filter((it): it is string => typeof it === 'string' && it !== '');

/** Files: those that the value names, each with a button that takes it away; and a box to choose more. */
export function FileControl({ service, form, field, name, state, aria, set, leave }: Props) {
  const [going, setGoing] = useState<Going[]>([]);
  const [said, say] = useState('');
  const files = refs(state.value);
  // Several files may go up at once: each is added to what the field has by then.
  const latest = useRef(state.value);
  latest.current = state.value;
  const many = field.count !== undefined;

  const put = (all: string[]) => {
    set(many ? all : (all.at(-1) ?? ''));
    leave();
  };

  const send = async (file: File) => {
    const mine: Going = { name: file.name, percent: 0, stop: new AbortController() };
    const tell = (percent: number) => {
      setGoing((all) => all.map((it) => (it.stop === mine.stop ? { ...it, percent } : it)));
    };
    setGoing((all) => [...all, mine]);
    try {
      const done = await upload(
        service,
        file,
        { form, field: name.replace(/\[\d+\]/g, '') },
        {
          sent: (bytes) => tell(Math.floor((100 * bytes) / Math.max(1, file.size))),
          waiting: () =>
            say(t('{name}: the line is broken; it goes on by itself.', { name: file.name })),
        },
        mine.stop.signal,
      );
      NAMES.set(done.value, done.name);
      say(t('{name} is uploaded.', { name: done.name }));
      put([...refs(latest.current), done.value]);
    } catch (failure) {
      say(
        failure instanceof NotTaken
          ? t('{name} was not taken. {reason}', { name: file.name, reason: failure.message })
          : t('{name} is removed.', { name: file.name }),
      );
    } finally {
      setGoing((all) => all.filter((it) => it.stop !== mine.stop));
    }
  };

  return (
    <div className="files">
      <ul>
        {files.map((ref) => (
          <li key={ref}>
            {NAMES.get(ref) ?? ref}{' '}
            <Button
              size="small"
              aria-label={t('Remove {name}', { name: NAMES.get(ref) ?? ref })}
              onClick={() => put(files.filter((it) => it !== ref))}
            >
              ✕
            </Button>
          </li>
        ))}
        {going.map(({ name: file, percent, stop }) => (
          <li key={file}>
            {file} <Progress percent={percent} size="small" aria-label={file} />
            <Button
              size="small"
              aria-label={t('Stop {name}', { name: file })}
              onClick={() => stop.abort()}
            >
              ✕
            </Button>
          </li>
        ))}
      </ul>
      <input
        {...aria}
        type="file"
        multiple={many}
        accept={field.accept?.join(',')}
        onChange={({ target }) => {
          const chosen = [...(target.files ?? [])];
          target.value = '';
          // One after the other, so that they stay in this order.
          void chosen.reduce((before, file) => before.then(() => send(file)), Promise.resolve());
        }}
      />
      <p className="help" role="status">
        {said}
      </p>
    </div>
  );
}
