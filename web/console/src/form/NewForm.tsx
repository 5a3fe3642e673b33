import { Input } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { Workshop } from './FileTab';

const NAME = /^[a-z][a-z0-9-]{0,39}$/;

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

/** Begins a form: its name, then its file. */
export function NewForm() {
  const go = useNavigate();
  const [name, setName] = useState('');
  useTitle(t('A new form'));
  const wrong = name !== '' && !NAME.test(name);
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
          onChange={(event) => setName(event.target.value)}
        />
        <p className="error" id="new-name-error" role="alert">
          {wrong && t('“{name}” is no name of a form.', { name })}
        </p>
      </div>
      {NAME.test(name) && (
        <Workshop
          key={name}
          form={name}
          file={{ text: '', type: 'application/yaml', tag: '' }}
          begin={starter(name)}
          again={() => void go(`/forms/${name}`)}
        />
      )}
    </>
  );
}
