import { Spin } from 'antd';
import { file } from './api';
import { Failure } from './states';
import { useLoaded } from './useLoaded';

/** The form file as it was published. */
export function FileView({ form, revision }: { form: string; revision: number }) {
  const loaded = useLoaded(`${form} ${revision}`, () => file(form));
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (loaded.value === undefined) {
    return <Spin className="waiting" aria-label="Loading" />;
  }
  return (
    <pre className="file" tabIndex={0} role="region" aria-label="Form file">
      {loaded.value.split('\n').map((line, index) => (
        <span key={index} className="line">
          {line}
          {'\n'}
        </span>
      ))}
    </pre>
  );
}
