import { MergeView } from '@codemirror/merge';
import { yaml } from '@codemirror/lang-yaml';
import { syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { EditorView, lineNumbers } from '@codemirror/view';
import { classHighlighter } from '@lezer/highlight';
import { App, Button, Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { minute } from '../access';
import { NONCE } from '../nonce';
import { Failure, Waiting } from '../states';
import { inWords, useLoaded } from '../useLoaded';
import { t } from '../words';
import { backTo, revisionOf, revisions } from './files';

interface Props {
  form: string;
  /** The text that is published. */
  current: string;
  /** Is told that an earlier one is published again. */
  back: () => void;
}

/** An earlier revision beside the one that is published. */
export function Revisions({ form, current, back }: Props) {
  const { message } = App.useApp();
  const all = useLoaded(`revisions ${form}`, () => revisions(form));
  const [chosen, setChosen] = useState<number>();
  const earlier = (all.value ?? []).filter((it) => !it.current);
  const number = chosen ?? earlier[0]?.revision;
  const text = useLoaded(`${form} ${number}`, async () =>
    number === undefined ? undefined : (await revisionOf(form, number)).text,
  );
  if (all.error ?? text.error) {
    return <Failure text={(all.error ?? text.error)!} again={all.again} />;
  }
  if (!all.value) {
    return <Waiting />;
  }
  if (number === undefined) {
    return <p>{t('This is the first revision.')}</p>;
  }
  const put = () =>
    void backTo(form, number).then(
      ({ revision }) => {
        void message.success(t('Revision {revision} is published.', { revision }));
        back();
      },
      (failure: unknown) => void message.error(inWords(failure)),
    );
  return (
    <>
      <div className="tools">
        <Select
          aria-label={t('Revision')}
          value={number}
          onChange={setChosen}
          options={earlier.map(({ revision, publishedAt }) => ({
            value: revision,
            label: t('Revision {revision}, {time}', { revision, time: minute(publishedAt) }),
          }))}
        />
        <Button onClick={put}>
          {t('Publish revision {revision} again', { revision: number })}
        </Button>
      </div>
      <p className="help">
        {t('On the left revision {revision}, on the right what is published.', {
          revision: number,
        })}
      </p>
      {text.value !== undefined && <SideBySide left={text.value} right={current} />}
    </>
  );
}

function SideBySide({ left, right }: { left: string; right: string }) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const side = (doc: string, label: string) => ({
      doc,
      extensions: [
        EditorView.cspNonce.of(NONCE),
        lineNumbers(),
        yaml(),
        syntaxHighlighting(classHighlighter),
        EditorState.readOnly.of(true),
        EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
      ],
    });
    const view = new MergeView({
      a: side(left, t('The earlier revision')),
      b: side(right, t('What is published')),
      parent: host.current!,
      collapseUnchanged: { margin: 3, minSize: 6 },
    });
    return () => view.destroy();
  }, [left, right]);
  return <div ref={host} className="code-editor" />;
}
