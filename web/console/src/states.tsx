import { Alert, Button } from 'antd';

/** Something could not be loaded: why, and a way to try once more. */
export function Failure({ text, again }: { text: string; again: () => void }) {
  return (
    <Alert
      type="error"
      showIcon
      title={text}
      action={<Button onClick={again}>Try again</Button>}
      className="failure"
    />
  );
}
