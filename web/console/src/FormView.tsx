import { Spin, Tabs, Typography } from 'antd';
import { Service, type Description } from 'nodley-page';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { useRights } from './caller';
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
  return <Parts {...{ part, id }} description={loaded.value} />;
}

interface Shown {
  description: Description;
  part: string;
  id: string | undefined;
}

/** What of a form is for whoever is signed in. */
function Parts({ description, part, id }: Shown) {
  const { form } = description;
  const go = useNavigate();
  const rights = useRights(description);
  if (part === 'file' && !rights.author) {
    return <Navigate to={`/forms/${form}`} replace />;
  }
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
            children: (
              <RecordsView description={description} {...(id !== undefined && { open: id })} />
            ),
          },
          {
            key: 'fields',
            label: 'Fields',
            children: <FieldsTable description={description} />,
          },
          ...(rights.author
            ? [
                {
                  key: 'file',
                  label: `File, revision ${description.revision}`,
                  children: <FileView form={form} revision={description.revision} />,
                },
              ]
            : []),
        ]}
      />
    </>
  );
}
