import { App, Button, Tabs } from 'antd';
import type { Description } from 'nodley-page';
import { useContext, useEffect, type RefObject } from 'react';
import { daysKept, record, remove, type Kept } from '../api';
import { CallerContext, useRights } from '../caller';
import { Failure, Waiting } from '../states';
import { inWords, useLoaded } from '../useLoaded';
import { useQuery } from '../useQuery';
import { t } from '../words';
import { Caused } from './Caused';
import { History } from './History';
import { Owner } from './Owner';
import { RecordEditor } from './RecordEditor';

interface Props {
  description: Description;
  /** The record that is looked at; without it, one is added. */
  id?: string;
  /** Says what came of a change; with `stay`, the record stays open. */
  done: (say: string, stay?: boolean) => void;
  called: (title: string) => void;
  unsaved: RefObject<() => boolean>;
}

/** One record: its values, its history, what was sent to it, what it caused. */
export function RecordPanel({ description, id, ...rest }: Props) {
  if (id === undefined) {
    return <RecordEditor description={description} {...rest} />;
  }
  return <OneRecord description={description} id={id} {...rest} />;
}

function OneRecord({ description, id, done, called, unsaved }: Props & { id: string }) {
  const { form } = description;
  const rights = useRights(description);
  const { roles } = useContext(CallerContext);
  const { modal, message } = App.useApp();
  const query = useQuery();
  const loaded = useLoaded(`${form} ${id}`, () => record(form, id));
  const name = loaded.value?.called ?? '';
  const show = query.get('show') || 'values';
  // The editor tells its own.
  useEffect(() => {
    if (show !== 'values' && name) {
      called(name);
    }
  }, [show, name, called]);
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (!loaded.value) {
    return <Waiting />;
  }
  const kept = loaded.value;
  const isOperator = roles.some((it) => it === 'admin' || it === 'operator');
  const confirmRemoval = async () => {
    let days: number;
    try {
      days = await daysKept(form);
    } catch (failure) {
      void message.error(inWords(failure));
      return;
    }
    void modal.confirm({
      title: t('Remove {name}?', { name: kept.called }),
      content:
        days > 0
          ? t(
              'The record goes with all its versions ({versions}) and files. It can be put back for {days} days: see Removed.',
              { versions: kept.version, days },
            )
          : t('The record goes with all its versions and files, and cannot be put back.'),
      okText: t('Remove it'),
      okButtonProps: { danger: true },
      cancelText: t('Keep it'),
      onOk: () => void removed(kept),
    });
  };
  const changed = (say: string) => {
    loaded.again();
    done(say, true);
  };
  return (
    <>
      <Tabs
        activeKey={show}
        onChange={(key) => query.set({ show: key === 'values' ? '' : key })}
        items={[
          {
            key: 'values',
            label: t('Values'),
            children: (
              <RecordEditor key={kept.version} {...{ description, id, done, called, unsaved }} />
            ),
          },
          ...(rights.may('edit', kept) && rights.may('see', kept)
            ? [
                {
                  key: 'history',
                  label: t('History'),
                  children: <History key={kept.version} {...{ description, kept, changed }} />,
                },
              ]
            : []),
          ...(rights.author || isOperator
            ? [
                {
                  key: 'caused',
                  label: t('Attempts and deliveries'),
                  children: (
                    <Caused {...{ form, id }} author={rights.author} operator={isOperator} />
                  ),
                },
              ]
            : []),
        ]}
      />
      <footer className="record">
        {kept.confirmedAt && (
          <p className="help">
            {t('The address was confirmed {time}.', { time: kept.confirmedAt })}
          </p>
        )}
        {rights.may('edit', kept) && <Owner {...{ form, kept, changed }} />}
        {rights.may('remove', kept) && (
          <Button danger onClick={() => void confirmRemoval()}>
            {t('Remove this record')}
          </Button>
        )}
      </footer>
    </>
  );

  function removed({ version, called: name }: Kept): Promise<void> {
    return remove(form, id, version).then(
      () => done(t('{name} is removed.', { name })),
      (failure: unknown) => void message.error(inWords(failure)),
    );
  }
}
