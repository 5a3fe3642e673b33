import { Button } from 'antd';
import { useState } from 'react';
import { t } from '../words';
import { fileOfAnswers, TYPES, type Described } from './questions';

const BLANK: Described = { label: '', type: 'text', required: false, options: '' };

/** Asks what a form asks for, one field after the other, and makes a file of the answers. */
export function Questions({ name, begin }: { name: string; begin: (text: string) => void }) {
  const [title, setTitle] = useState('');
  const [fields, setFields] = useState<Described[]>([BLANK]);
  const change = (index: number, changed: Partial<Described>) =>
    setFields(fields.map((it, at) => (at === index ? { ...it, ...changed } : it)));
  const said = types();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        begin(fileOfAnswers(name, title, fields));
      }}
    >
      <p className="actions">
        <label>
          {t('What is the form called?')}{' '}
          <input value={title} onChange={({ target }) => setTitle(target.value)} />
        </label>
      </p>
      {fields.map((field, index) => (
        <fieldset key={index} className="row">
          <legend>{t('Field {number}', { number: index + 1 })}</legend>
          <div className="actions">
            <label>
              {t('What does it ask for?')}{' '}
              <input
                value={field.label}
                onChange={({ target }) => change(index, { label: target.value })}
              />
            </label>
            <label>
              {t('What is the answer?')}{' '}
              <select
                value={field.type}
                onChange={({ target }) =>
                  change(index, { type: target.value as Described['type'] })
                }
              >
                {TYPES.map((type) => (
                  <option key={type} value={type}>
                    {said[type]}
                  </option>
                ))}
              </select>
            </label>
            {field.type === 'choice' && (
              <label>
                {t('Options, with commas between')}{' '}
                <input
                  value={field.options}
                  onChange={({ target }) => change(index, { options: target.value })}
                />
              </label>
            )}
            <label>
              <input
                type="checkbox"
                checked={field.required}
                onChange={({ target }) => change(index, { required: target.checked })}
              />{' '}
              {t('It must be answered')}
            </label>
          </div>
        </fieldset>
      ))}
      <div className="actions">
        <Button onClick={() => setFields([...fields, BLANK])}>{t('One more field')}</Button>
        <Button
          type="primary"
          htmlType="submit"
          disabled={fields.every(({ label }) => label.trim() === '')}
        >
          {t('Make the file')}
        </Button>
      </div>
    </form>
  );
}

const types = (): Record<Described['type'], string> => ({
  text: t('a text'),
  integer: t('a whole number'),
  decimal: t('a number'),
  date: t('a day'),
  boolean: t('yes or no'),
  email: t('an e-mail address'),
  choice: t('one of some options'),
  file: t('a file'),
});
