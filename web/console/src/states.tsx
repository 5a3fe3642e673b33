import { Alert, Button, Spin } from 'antd';
import { t } from './words';

/** Something could not be loaded: why, and a way to try once more. */
export function Failure({ text, again }: { text: string; again: () => void }) {
  return (
    <Alert
      type="error"
      showIcon
      title={text}
      action={<Button onClick={again}>{t('Try again')}</Button>}
      className="failure"
    />
  );
}

/** Something is on its way. */
export function Waiting() {
  return <Spin className="waiting" aria-label={t('Loading')} />;
}
