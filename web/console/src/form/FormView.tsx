import { Tabs, Typography } from 'antd';
import { Service, type Description } from 'nodley-page';
import { lazy, Suspense } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { useRights } from '../caller';
import { FieldsTable } from './FieldsTable';
import { RecordsView } from '../records/RecordsView';
import { Failure, Waiting } from '../states';
import { t } from '../words';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';

const FileTab = lazy(() => import('./FileTab').then((it) => ({ default: it.FileTab })));
const TextsTab = lazy(() => import('./TextsTab').then((it) => ({ default: it.TextsTab })));
const WireTab = lazy(() => import('./WireTab').then((it) => ({ default: it.WireTab })));
const StrugglesTab = lazy(() =>
  import('../overview/StrugglesTab').then((it) => ({ default: it.StrugglesTab })),
);

const service = new Service();

/** One form: its records, its fields, its file, and where people struggle with it. */
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
    return <Waiting />;
  }
  return <Parts {...{ part, id }} description={loaded.value} published={loaded.again} />;
}

interface Shown {
  description: Description;
  part: string;
  id: string | undefined;
  /** Is told that another revision is published. */
  published: () => void;
}

/** What of a form is for whoever is signed in. */
function Parts({ description, part, id, published }: Shown) {
  const { form } = description;
  const go = useNavigate();
  const rights = useRights(description);
  if (['file', 'texts', 'struggles', 'wire'].includes(part) && !rights.author) {
    return <Navigate to={`/forms/${form}`} replace />;
  }
  return (
    <>
      <p className="trail">
        <Link to="/">{t('Forms')}</Link>
      </p>
      <Typography.Title level={1}>{description.title.list}</Typography.Title>
      <Tabs
        activeKey={part}
        onChange={(key) => void go(`/forms/${form}/${key}`)}
        destroyOnHidden
        items={[
          {
            key: 'records',
            label: t('Records'),
            children: (
              <RecordsView description={description} {...(id !== undefined && { open: id })} />
            ),
          },
          {
            key: 'fields',
            label: t('Fields'),
            children: <FieldsTable description={description} />,
          },
          ...(rights.author
            ? [
                {
                  key: 'file',
                  label: t('Form file'),
                  children: (
                    <Suspense fallback={<Waiting />}>
                      <FileTab form={form} published={published} />
                    </Suspense>
                  ),
                },
                {
                  key: 'texts',
                  label: t('Texts'),
                  children: (
                    <Suspense fallback={<Waiting />}>
                      <TextsTab form={form} />
                    </Suspense>
                  ),
                },
                {
                  key: 'struggles',
                  label: t('Where people struggle'),
                  children: (
                    <Suspense fallback={<Waiting />}>
                      <StrugglesTab description={description} />
                    </Suspense>
                  ),
                },
                {
                  key: 'wire',
                  label: t('Wire it'),
                  children: (
                    <Suspense fallback={<Waiting />}>
                      <WireTab description={description} />
                    </Suspense>
                  ),
                },
              ]
            : []),
        ]}
      />
    </>
  );
}
