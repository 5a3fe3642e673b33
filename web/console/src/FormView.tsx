import { Spin, Tabs, Typography } from 'antd';
import { Service } from 'nodley-page';
import { Link, useNavigate, useParams } from 'react-router';
import { FieldsTable } from './FieldsTable';
import { FileView } from './FileView';
import { RecordsView } from './RecordsView';
import { Failure } from './states';
import { useLoaded } from './useLoaded';
import { useTitle } from './useTitle';

const service = new Service();

/** One form: its records, its fields, its file. */
export function FormView() {
  const { form = '', part = 'records', id } = useParams();
  const go = useNavigate();
  const loaded = useLoaded(form, () => service.describe(form));
  const list = loaded.value?.title.list;
  // An open record tells its own.
  useTitle(list === undefined || id !== undefined ? '' : `${list}, ${part}`);
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (!loaded.value || loaded.value.form !== form) {
    return <Spin className="waiting" aria-label="Loading" />;
  }
  const description = loaded.value;
  return (
    <>
      <p className="trail">
        <Link to="/">Forms</Link>
      </p>
      <Typography.Title level={1}>{description.title.list}</Typography.Title>
      <Tabs
        activeKey={part}
        onChange={(key) => void go(`/forms/${form}/${key}`)}
        destroyOnHidden
        items={[
          {
            key: 'records',
            label: 'Records',
            children: <RecordsView description={description} open={id} />,
          },
          {
            key: 'fields',
            label: 'Fields',
            children: <FieldsTable description={description} />,
          },
          {
            key: 'file',
            label: `File, revision ${description.revision}`,
            children: <FileView form={form} revision={description.revision} />,
          },
        ]}
      />
    </>
  );
}
