import { App, Button, Input, Popover } from 'antd';
import { useState } from 'react';
import { handOver, type Kept } from '../api';
import { inWords } from '../useLoaded';
import { t } from '../words';

/** Whose a record is, and a way to hand it over. */
export function Owner({
  form,
  kept,
  changed,
}: {
  form: string;
  kept: Kept;
  changed: (say: string) => void;
}) {
  const { message } = App.useApp();
  const [name, setName] = useState('');
  const [open, setOpen] = useState(false);
  if (kept.owner === undefined) {
    return null;
  }
  const hand = () =>
    void handOver(form, kept.id, name.trim() || null).then(
      () => {
        setOpen(false);
        changed(
          name.trim()
            ? t('It is handed over to {name}.', { name: name.trim() })
            : t('It is nobody’s now.'),
        );
      },
      (failure: unknown) => void message.error(inWords(failure)),
    );
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <div className="small">
          <label htmlFor="owner">{t('Name or id of the person')}</label>
          <p className="help">{t('Left blank, the record is nobody’s.')}</p>
          <Input
            id="owner"
            value={name}
            onChange={(event) => setName(event.target.value)}
            onPressEnter={hand}
          />
          <Button type="primary" onClick={hand}>
            {t('Hand over')}
          </Button>
        </div>
      }
    >
      <Button>{t('Hand over to somebody')}</Button>
    </Popover>
  );
}
