import { Alert, Input } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { inWords } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { Workshop } from './FileTab';
import { beginFrom, beginFromTable, SOURCES, type SourceTable } from './files';
import { Questions } from './Questions';
import { TableChoice } from './TableChoice';

const NAME = /^[a-z][a-z0-9-]{0,39}$/;

/** So much of a file of data is enough to begin from, in bytes. */
const ENOUGH = 1_000_000;

/** A form of one field, to go on from. */
function starter(name: string): string {
  const title = name.replaceAll('-', ' ');
  return `form: ${name}
title: { add: "Add a ${title}", list: "${title[0]!.toUpperCase()}${title.slice(1)}s" }
access: { add: anyone }
fields:
  name: { type: text, label: Name, required: true, length: 2..60 }
`;
}

type Source = 'nothing' | 'questions' | 'table' | (typeof SOURCES)[number];

/** What the file is begun with; the table, where it comes of one. */
interface Begun {
  text?: string;
  error?: string;
  table?: SourceTable;
}

/** Begins a form: its name, what it is begun from, then its file. */
export function NewForm() {
  const go = useNavigate();
  const [name, setName] = useState('');
  const [source, setSource] = useState<Source>('nothing');
  const [begun, setBegun] = useState<Begun>({});
  useTitle(t('A new form'));
  const wrong = name !== '' && !NAME.test(name);
  const text = source === 'nothing' ? starter(name || 'form') : begun.text;
  const begin = async (text: Promise<string>, table?: SourceTable) => {
    const waiting: Begun = table ? { table } : {};
    setBegun(waiting);
    // A reply that comes after another choice is dropped.
    const tell = (told: Begun) =>
      setBegun((now) => (now === waiting ? { ...waiting, ...told } : now));
    try {
      tell({ text: await text });
    } catch (failure) {
      tell({ error: inWords(failure) });
    }
  };
  const media = SOURCES.find((it) => it === source);
  const read = async (file: File, type: string) =>
    beginFrom(name, type === 'text/csv' ? await beginning(file) : file, type);
  return (
    <>
      <p className="trail">
        <Link to="/">{t('Forms')}</Link>
      </p>
      <h1>{t('A new form')}</h1>
      <div className="small">
        <label htmlFor="new-name">{t('Its name')}</label>
        <p className="help" id="new-name-help">
          {t('It stands in addresses: a small letter, then small letters, digits or hyphens.')}
        </p>
        <Input
          id="new-name"
          value={name}
          spellCheck={false}
          aria-invalid={wrong}
          aria-describedby="new-name-help new-name-error"
          {...(wrong && { status: 'error' as const })}
          onChange={(event) => {
            setName(event.target.value);
            setBegun({});
          }}
        />
        <p className="error" id="new-name-error" role="alert">
          {wrong && t('“{name}” is no name of a form.', { name })}
        </p>
      </div>
      {NAME.test(name) && (
        <div className="actions">
          <label>
            {t('Begin from')}{' '}
            <select
              value={source}
              onChange={({ target }) => {
                setSource(target.value as Source);
                setBegun({});
              }}
            >
              <option value="nothing">{t('one field')}</option>
              <option value="questions">{t('answers to questions')}</option>
              <option value="text/csv">{t('data (CSV)')}</option>
              <option value="application/schema+json">{t('a JSON Schema')}</option>
              <option value="text/html">{t('a page with a form in it (HTML)')}</option>
              <option value="table">{t('a table of a database')}</option>
            </select>
          </label>
          {media && (
            <label>
              {t('File')}{' '}
              <input
                // Another source is another file, and for another name it is read anew.
                key={`${source} ${name}`}
                type="file"
                onChange={({ target }) => {
                  const file = target.files?.[0];
                  if (file) {
                    void begin(read(file, media));
                  }
                }}
              />
            </label>
          )}
        </div>
      )}
      {NAME.test(name) && source === 'questions' && (
        <Questions name={name} begin={(made) => setBegun({ text: made })} />
      )}
      {NAME.test(name) && source === 'table' && (
        <TableChoice
          chosen={begun.table}
          choose={(table) => void begin(beginFromTable(name, table), table)}
        />
      )}
      {begun.error && <Alert className="failure" type="error" role="alert" title={begun.error} />}
      {NAME.test(name) && text !== undefined && (
        <Workshop
          key={`${name} ${text}`}
          place={{ kind: 'forms', name }}
          file={{ text: '', type: 'application/yaml', tag: '' }}
          begin={text}
          again={() => void go(`/forms/${name}`)}
        />
      )}
    </>
  );
}

/** The first lines of data, whole ones: what comes later tells no more. */
async function beginning(file: File): Promise<Blob> {
  if (file.size <= ENOUGH) {
    return file;
  }
  const bytes = new Uint8Array(await file.slice(0, ENOUGH).arrayBuffer());
  return new Blob([bytes.slice(0, bytes.lastIndexOf(0x0a) + 1)]);
}
