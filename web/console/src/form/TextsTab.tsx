import { Alert, App, Button, Input, Table } from 'antd';
import { Refusal } from 'nodley-page';
import { useState } from 'react';
import { Scrolled } from '../Scrolled';
import { Failure, Waiting } from '../states';
import { inWords, useLoaded } from '../useLoaded';
import { t } from '../words';
import type { PublishedFile } from './files';
import {
  fileOfTexts,
  hasComments,
  languagesOf,
  putTexts,
  textsOf,
  treeOf,
  type Text,
} from './texts';

/** The tag of what is in no language (BCP 47), in which no form has texts: all are the form file's. */
const NONE = 'zxx';

/** A form's texts in its languages: what is missing is marked, and each is edited in place. */
export function TextsTab({ form }: { form: string }) {
  const [added, setAdded] = useState<string[]>([]);
  const [wanted, setWanted] = useState('');
  const loaded = useLoaded(`texts ${form} ${added.join()}`, async () => {
    const languages = [...new Set([...(await languagesOf(form)), ...added])];
    const original = new Map((await textsOf(form, NONE)).map(({ key, text }) => [key, text]));
    return Promise.all(
      languages.map(async (language) => ({
        language,
        original,
        // The file first: what is published in between is told as a conflict.
        file: await fileOfTexts(form, language),
        texts: await textsOf(form, language),
      })),
    );
  });
  if (loaded.error) {
    return (
      <Failure
        text={loaded.error}
        again={() => {
          // A language that there is not is none of them.
          setAdded([]);
          loaded.again();
        }}
      />
    );
  }
  if (!loaded.value) {
    return <Waiting />;
  }
  return (
    <>
      <p className="help">
        {t('What the form file says is said where a language has no text of its own.')}
      </p>
      {loaded.value.map(({ language, original, file, texts }) => (
        <OneLanguage
          key={`${language} ${file.tag}`}
          {...{ form, language, original, file, texts }}
          again={loaded.again}
        />
      ))}
      <div className="tools">
        <form
          className="actions"
          onSubmit={(event) => {
            event.preventDefault();
            setAdded([...added, wanted.trim()]);
            setWanted('');
          }}
        >
          <label htmlFor="language-to-add">{t('Another language')}</label>
          <Input
            id="language-to-add"
            className="short"
            placeholder="de, pt-BR"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
          />
          <Button htmlType="submit" disabled={!wanted.trim()}>
            {t('Add')}
          </Button>
        </form>
      </div>
    </>
  );
}

interface Props {
  form: string;
  language: string;
  /** What the form file says, by key. */
  original: Map<string, string>;
  file: PublishedFile;
  texts: Text[];
  again: () => void;
}

function OneLanguage({ form, language, original, file, texts, again }: Props) {
  const { message, modal } = App.useApp();
  const [typed, setTyped] = useState(
    () => new Map(texts.filter(({ from }) => from === 'texts').map((it) => [it.key, it.text])),
  );
  const [errors, setErrors] = useState<string[]>([]);
  const [changed, setChanged] = useState(false);
  const own = (key: string) => typed.get(key) ?? '';
  const missing = texts.filter(({ key, state }) => state !== 'unused' && !own(key).trim()).length;
  const publish = async () => {
    setErrors([]);
    try {
      await putTexts(form, language, treeOf(typed), file.tag);
      void message.success(t('The texts in {language} are published.', { language }));
      again();
    } catch (failure) {
      const told = failure instanceof Refusal ? (failure.problem.errors ?? []) : [];
      setErrors(told.length ? told.map(({ detail }) => detail) : [inWords(failure)]);
    }
  };
  const ask = () => {
    if (!hasComments(file)) {
      void publish();
      return;
    }
    void modal.confirm({
      title: t('Publish without the comments?'),
      content: t('The file of these texts has comments, and written from here it has none.'),
      okText: t('Publish'),
      cancelText: t('Cancel'),
      onOk: () => void publish(),
    });
  };
  return (
    <section aria-label={language}>
      <h2>{new Intl.DisplayNames([language, 'en'], { type: 'language' }).of(language)}</h2>
      <div className="tools">
        <p className="help">
          {missing === 0 ? t('All texts are there.') : t('Missing: {count}', { count: missing })}
        </p>
        <Button type="primary" disabled={!changed} onClick={ask}>
          {t('Publish the texts in {language}', { language })}
        </Button>
      </div>
      {errors.map((error) => (
        <Alert key={error} role="alert" type="error" showIcon className="failure" title={error} />
      ))}
      <Scrolled label={t('Texts in {language}', { language })}>
        <Table<Text>
          rowKey="key"
          size="small"
          pagination={{ hideOnSinglePage: true, pageSize: 50 }}
          dataSource={texts.filter(({ state }) => state !== 'unused')}
          columns={[
            { title: t('Text'), key: 'key', render: (_, { key }) => <code>{key}</code> },
            {
              title: t('In the form file'),
              key: 'there',
              render: (_, { key }) => <span className="original">{original.get(key)}</span>,
            },
            {
              title: language,
              key: 'own',
              render: (_, { key }) => (
                <Input.TextArea
                  rows={1}
                  className="grows"
                  lang={language}
                  aria-label={t('{key} in {language}', { key, language })}
                  placeholder={original.get(key) ?? ''}
                  value={own(key)}
                  {...(!own(key).trim() && { status: 'warning' as const })}
                  onChange={({ target }) => {
                    setChanged(true);
                    setTyped(new Map(typed).set(key, target.value));
                  }}
                />
              ),
            },
          ]}
        />
      </Scrolled>
    </section>
  );
}
