import { Empty, Table, Typography } from 'antd';
import { Link } from 'react-router';
import { forms, type FormSummary } from './api';
import { Failure } from './states';
import { Scrolled } from './Scrolled';
import { useLoaded } from './useLoaded';
import { useTitle } from './useTitle';

/** All forms, with how many records each holds. */
export function FormsView() {
  const loaded = useLoaded('forms', forms);
  useTitle('Forms');
  return (
    <>
      <Typography.Title level={1}>Forms</Typography.Title>
      {loaded.error ? (
        <Failure text={loaded.error} again={loaded.again} />
      ) : (
        <Scrolled label="Forms">
          <Table<FormSummary>
            rowKey="form"
            loading={loaded.loading}
            dataSource={loaded.value ?? []}
            pagination={false}
            locale={{
              emptyText: (
                <Empty
                  image={Empty.PRESENTED_IMAGE_SIMPLE}
                  description="No form is published yet. Publish one: ./nodley publish FILE"
                />
              ),
            }}
            columns={[
              {
                title: 'Title',
                key: 'title',
                render: (_, form) => <Link to={`/forms/${form.form}`}>{form.title}</Link>,
              },
              { title: 'Form', key: 'form', render: (_, form) => <code>{form.form}</code> },
              { title: 'Revision', dataIndex: 'revision', align: 'right' },
              { title: 'Fields', dataIndex: 'fields', align: 'right' },
              { title: 'Records', dataIndex: 'records', align: 'right' },
            ]}
          />
        </Scrolled>
      )}
    </>
  );
}
