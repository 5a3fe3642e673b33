import { Alert, App, Button, Modal } from 'antd';
import { Refusal } from 'nodley-page';
import { useState } from 'react';
import { Failure, Waiting } from '../states';
import { inWords, useLoaded } from '../useLoaded';
import { t } from '../words';
import { Editor } from './Editor';
import {
  fileOf,
  preview,
  publish,
  type FileError,
  type Place,
  type PublishedFile,
  type Objection,
  type Published,
} from './files';
import { PagePreview } from './PagePreview';
import { Revisions } from './Revisions';

interface Props {
  form: string;
  /** Is told that another revision is published. */
  published: () => void;
}

/** The form file: edited, looked through before it is published, and published; its revisions. */
export function FileTab({ form, published }: Props) {
  const place: Place = { kind: 'forms', name: form };
  const loaded = useLoaded(form, () => fileOf(place));
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (!loaded.value) {
    return <Waiting />;
  }
  return (
    <Workshop
      key={loaded.value.tag}
      place={place}
      file={loaded.value}
      again={() => {
        loaded.again();
        published();
      }}
    />
  );
}

interface WorkshopProps {
  place: Place;
  /** What is published; blank for what is not. */
  file: PublishedFile;
  /** What is in the editor at first; left out, what is published. */
  begin?: string;
  /** Is told that another text is published. */
  again: () => void;
}

/** Edits a text, and publishes it. */
export function Workshop({ place, file, begin = file.text, again }: WorkshopProps) {
  const { message, modal } = App.useApp();
  const [text, setText] = useState(begin);
  const [errors, setErrors] = useState<FileError[]>([]);
  const [sound, setSound] = useState(begin);
  const [wanted, setWanted] = useState<Published>();
  const [problem, setProblem] = useState<Told>();
  const [working, setWorking] = useState(false);
  const [comparing, setComparing] = useState(false);
  const changed = text !== file.text;
  const isForm = place.kind === 'forms';

  const act = async (work: () => Promise<void>) => {
    setWorking(true);
    setProblem(undefined);
    try {
      await work();
    } catch (failure) {
      setProblem(toldOf(failure));
    } finally {
      setWorking(false);
    }
  };
  const look = () => act(async () => setWanted(await preview(place, { ...file, text })));
  const go = (force: boolean) =>
    act(async () => {
      const done = await publish(place, { ...file, text }, force);
      setWanted(undefined);
      void message.success(
        isForm
          ? t('Revision {revision} is published.', { revision: done.revision })
          : t('{name} is published.', { name: place.name }),
      );
      again();
    });
  const download = () => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([text], { type: file.type }));
    const kind = place.kind.slice(0, -1);
    link.download = `${place.name}.${kind}.${file.type.includes('json') ? 'json' : 'yaml'}`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <>
      <div className="tools">
        <p className="help" aria-live="polite">
          {errors.length === 0
            ? changed
              ? t('Not published yet; the reader finds nothing wrong.')
              : t('This is what is published.')
            : t('Errors: {count}. The first is in line {line}: {detail}', {
                count: errors.length,
                line: errors[0]!.line,
                detail: errors[0]!.detail,
              })}
        </p>
        <span className="actions">
          <Button onClick={download}>{t('Download')}</Button>
          {isForm && file.text && (
            <Button onClick={() => setComparing(true)}>{t('Revisions')}</Button>
          )}
          <Button
            type="primary"
            disabled={!changed || errors.length > 0}
            loading={working}
            onClick={() => void look()}
          >
            {t('What publishing would do')}
          </Button>
        </span>
      </div>
      {problem && <Problem told={problem} />}
      <div className={isForm ? 'beside' : ''}>
        <Editor
          place={place}
          type={file.type}
          begin={begin}
          change={setText}
          linted={(found, of) => {
            setErrors(found);
            if (found.length === 0) {
              setSound(of);
            }
          }}
        />
        {isForm && (
          <PagePreview
            form={place.name}
            text={sound}
            type={file.type}
            published={file.text !== ''}
          />
        )}
      </div>
      <Modal
        open={wanted !== undefined}
        width={720}
        title={t('What publishing would do')}
        onCancel={() => setWanted(undefined)}
        footer={
          <>
            <Button onClick={() => setWanted(undefined)}>{t('Go on editing')}</Button>
            {wanted && wanted.objections.length === 0 && (
              <Button
                type="primary"
                loading={working}
                onClick={() =>
                  wanted.fallsShort.length === 0
                    ? void go(false)
                    : void modal.confirm({
                        title: t('Publish although records fall short?'),
                        content: t(
                          'They stay as they are, and meet the new rules when they are edited next.',
                        ),
                        okText: t('Publish'),
                        cancelText: t('Cancel'),
                        onOk: () => {
                          void go(true);
                        },
                      })
                }
              >
                {t('Publish')}
              </Button>
            )}
          </>
        }
      >
        {problem && <Problem told={problem} />}
        {wanted && <Plan of={wanted} />}
      </Modal>
      <Modal
        open={comparing}
        width={1100}
        destroyOnHidden
        title={t('Revisions')}
        footer={null}
        onCancel={() => setComparing(false)}
      >
        <Revisions
          form={place.name}
          current={file.text}
          back={() => {
            setComparing(false);
            again();
          }}
        />
      </Modal>
    </>
  );
}

/** What came of asking, in sentences. */
interface Told {
  title: string;
  sentences: string[];
}

function toldOf(failure: unknown): Told {
  const problem = failure instanceof Refusal ? failure.problem : undefined;
  const more = problem as unknown as { objections?: Objection[] } | undefined;
  return {
    title: inWords(failure),
    sentences: [
      ...(problem?.errors ?? []).map(({ detail }) => detail),
      ...(more?.objections ?? []).map(sentence),
    ],
  };
}

export function Problem({ told: { title, sentences } }: { told: Told }) {
  return (
    <Alert
      role="alert"
      type="error"
      showIcon
      className="failure"
      title={title}
      {...(sentences.length > 0 && { description: <List of={sentences} /> })}
    />
  );
}

/** What becomes of tables and records. */
function Plan({ of: { changes, objections, fallsShort, warnings } }: { of: Published }) {
  return (
    <>
      {changes.length === 0 && (
        <p>{t('The tables stay as they are: texts, rules or the order of fields are others.')}</p>
      )}
      <Part
        title={t('Changes to the tables')}
        sentences={changes.map(({ field, detail }) => (field ? `${field}: ${detail}` : detail))}
      />
      <Part title={t('It cannot be published, because')} sentences={objections.map(sentence)} />
      <Part
        title={t('Kept records that the new rules would refuse')}
        sentences={fallsShort.map(sentence)}
      />
      <Part
        title={t('Worth a thought')}
        sentences={warnings.map(({ pointer, detail }) => `${pointer.slice(2)}: ${detail}`)}
      />
    </>
  );
}

function sentence({ form, field, detail, count }: Objection): string {
  const where = field ? `${form}.${field}` : form;
  return `${where}: ${detail}${count ? ` (${count})` : ''}`;
}

function Part({ title, sentences }: { title: string; sentences: string[] }) {
  return sentences.length === 0 ? null : (
    <>
      <h2>{title}</h2>
      <List of={sentences} />
    </>
  );
}

function List({ of: sentences }: { of: string[] }) {
  return (
    <ul>
      {sentences.map((each, index) => (
        <li key={index}>{each}</li>
      ))}
    </ul>
  );
}
