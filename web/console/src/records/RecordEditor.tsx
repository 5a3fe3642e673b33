import { Alert, Button, ConfigProvider, Spin } from 'antd';
import {
  display,
  judge,
  OpenForm,
  Service,
  valuesWithRows,
  type Description,
  type Difference,
  type Json,
} from 'nodley-page';
import { options as optionsOf } from 'nodley-page/options';
import { useFormState, useOpenForm } from 'nodley-react';
import { useEffect, useState, type FormEvent, type RefObject } from 'react';
import { record, type Kept } from '../api';
import { useRights } from '../caller';
import { FieldControls, idOf } from './FieldControl';
import { Failure } from '../states';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';

const service = new Service();

interface Props {
  description: Description;
  /** The record that is edited; without it, one is added. */
  id?: string;
  done: (say: string) => void;
  /** Is told what the record's form is headed with. */
  called: (title: string) => void;
  /** Is given what tells whether something typed is not saved. */
  unsaved: RefObject<() => boolean>;
}

/** Adds or edits a record, on the same rules, errors and live checks as a page. */
export function RecordEditor({ description, id, done, called, unsaved }: Props) {
  const loaded = useLoaded<Kept | undefined>(`${description.form} ${id}`, async () =>
    id ? withRows(await record(description.form, id)) : undefined,
  );
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (loaded.loading) {
    return <Spin className="waiting" aria-label={t('Loading')} />;
  }
  return (
    <Editor
      key={loaded.value?.version}
      description={description}
      {...(loaded.value && { kept: loaded.value })}
      again={loaded.again}
      {...{ done, called, unsaved }}
    />
  );
}

/** The same, in which each row says which kept row it is. */
async function withRows(kept: Kept): Promise<Kept> {
  return { ...kept, values: await valuesWithRows(kept) };
}

interface EditorProps extends Omit<Props, 'id'> {
  kept?: Kept;
  again: () => void;
}

function Editor({ description, kept, done, called, unsaved, again }: EditorProps) {
  const changes = useRights(description).may(kept ? 'edit' : 'add', kept);
  const title = !kept ? description.title.add : changes ? edited(description, kept) : kept.called;
  useTitle(title);
  useEffect(() => called(title), [title]);
  const opened = useOpenForm(() => open(description, kept));
  const state = useFormState(opened);
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    unsaved.current = () => opened.unsaved();
    const ask = (event: BeforeUnloadEvent) => opened.unsaved() && event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => {
      unsaved.current = () => false;
      window.removeEventListener('beforeunload', ask);
    };
  }, [opened]);
  const removed = state.elsewhere?.length === 0;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const outcome = await opened.submit();
    if (outcome.kind === 'accepted') {
      done(outcome.record.after.say);
    } else if (outcome.kind === 'refused') {
      const [first] = opened.wrong();
      setTurn(turn + 1);
      // Once React has drawn the errors, the first of them gets the focus.
      requestAnimationFrame(() =>
        document.getElementById(first ? idOf(first) : 'editor-problem')?.focus(),
      );
    }
  };
  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="editor">
      <div id="editor-problem" tabIndex={-1} role="alert">
        {state.others.length > 0 && (
          <Alert type="error" showIcon title={state.others.join(' ')} className="failure" />
        )}
        {state.elsewhere && (
          <Alert
            type="warning"
            showIcon
            className="failure"
            title={
              removed
                ? t('Somebody else has removed this record.')
                : t('Somebody else has just saved this record: {fields}.', {
                    fields: state.elsewhere.join(', '),
                  })
            }
            {...(!removed && {
              description: t('When you save, what only they changed is taken over.'),
              action: (
                <Button onClick={() => void opened.takeTheirs()}>{t('Take theirs now')}</Button>
              ),
            })}
          />
        )}
        {state.conflict && (
          <Alert
            type="warning"
            showIcon
            className="failure"
            title={t('Somebody else saved this record while you were editing it')}
            description={
              <>
                <p>
                  {t(
                    'Nothing of yours is lost, and nothing is saved yet. What only one of you changed is merged; what both changed:',
                  )}
                </p>
                <ul>
                  {state.conflict.map((it) => (
                    <Differing
                      key={it.name}
                      form={description.form}
                      difference={it}
                      keepTheirs={() => opened.keepTheirs(it.name)}
                    />
                  ))}
                </ul>
                <p>
                  {t('Save once more to put yours in place of theirs, or begin again from theirs.')}{' '}
                  <Button onClick={again}>{t('Begin again from theirs')}</Button>
                </p>
              </>
            }
          />
        )}
      </div>
      {!changes && <p className="help">{t('You may read this record, and not change it.')}</p>}
      {changes && description.fields.some((field) => field.required !== false) && (
        <p className="marks">
          <span className="needed" aria-hidden="true" /> {t('What has a dot must be filled in.')}
        </p>
      )}
      <ConfigProvider componentDisabled={!changes}>
        <FieldControls
          form={description.form}
          fields={description.fields}
          opened={opened}
          prefix=""
        />
      </ConfigProvider>
      {changes && (
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={state.working} disabled={removed}>
            {kept ? t('Save') : t('Add')}
          </Button>
        </div>
      )}
    </form>
  );
}

/** What an edit of a record is headed with; what only the service can fill in, the name stands for. */
function edited({ title, fields }: Description, { values, called }: Kept): string {
  let whole = true;
  const filled = title.edit.replace(/\{(\w+)\}/g, (_, name: string) => {
    const field = fields.find((it) => it.name === name);
    whole &&= field !== undefined && !field.refersTo;
    return field ? display(field, values[name]) : '';
  });
  return whole && !filled.includes('{') ? filled : t('Edit {name}', { name: called });
}

function open(description: Description, kept?: Kept): OpenForm {
  const values = kept ? kept.values : judge(description, {}).values;
  return new OpenForm(description, {
    mode: kept ? 'edit' : 'add',
    values,
    service,
    ...(kept && { record: kept.id, version: kept.version, follow: true }),
  });
}

/** One line of a conflict; a reference is shown by the name of its record. */
function Differing({
  form,
  difference,
  keepTheirs,
}: {
  form: string;
  difference: Difference;
  keepTheirs: () => void;
}) {
  const { field, theirs, yours } = difference;
  const options = useLoaded(`${form} ${field.name}`, async () =>
    field.refersTo ? optionsOf(service, form, field.name) : [],
  );
  const called = (value: Json) =>
    options.value?.find((option) => option.value === value)?.label ?? display(field, value);
  return (
    <li>
      {t('{field}: they saved {theirs}, you typed {yours}.', {
        field: field.label,
        theirs: called(theirs),
        yours: called(yours),
      })}{' '}
      <Button size="small" onClick={keepTheirs}>
        {t('Keep theirs')}
      </Button>
    </li>
  );
}
