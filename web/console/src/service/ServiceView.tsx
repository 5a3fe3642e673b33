import { Button, Progress, Typography } from 'antd';
import { minute } from '../access';
import { lazy, Suspense, useState } from 'react';
import { Failure, Waiting } from '../states';
import { inWords, useLoaded, type Loaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import {
  asks,
  daysLeft,
  findings,
  service,
  size,
  sources,
  type Asked,
  type DiskUse,
  type Finding,
  type FormDrafts,
  type FormUploads,
} from './service';
import { Listed } from '../Listed';

// The plots need a library of their own.
const Speed = lazy(() => import('./Speed').then((it) => ({ default: it.Speed })));

/** How the service stands: its disk, a backup, whom forms ask. For operators. */
export function ServiceView() {
  const loaded = useLoaded('service', service);
  const asked = useLoaded('asks', asks);
  const looked = useLoaded('sources', sources);
  useTitle(t('Service'));
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (!loaded.value) {
    return <Waiting />;
  }
  const { version, dataVersion, startedAt, disk, drafts, uploads } = loaded.value;
  return (
    <>
      <Typography.Title level={1}>{t('Service')}</Typography.Title>
      <dl className="facts">
        <dt>{t('Version')}</dt>
        <dd>{t('{version}, data version {data}', { version, data: dataVersion })}</dd>
        <dt>{t('Runs since')}</dt>
        <dd>{minute(startedAt)}</dd>
      </dl>
      <Typography.Title level={2}>{t('Disk')}</Typography.Title>
      <Disk disk={disk} />
      <Typography.Title level={2}>{t('How long submissions took')}</Typography.Title>
      <Suspense fallback={<Waiting />}>
        <Speed />
      </Suspense>
      <Typography.Title level={2}>{t('Not finished yet')}</Typography.Title>
      <p className="help">
        {t('Counts alone: what is in a draft or a file is for those whose it is.')}
      </p>
      <Listed<FormDrafts>
        label={t('Drafts')}
        loaded={loaded}
        rows={drafts}
        rowKey="form"
        empty={t('No draft waits.')}
        columns={[
          { title: t('Drafts of'), dataIndex: 'form' },
          { title: t('Count'), dataIndex: 'count' },
          { title: t('Oldest change'), key: 'oldest', render: (_, it) => at(it.oldest) },
          { title: t('The first goes'), key: 'end', render: (_, it) => at(it.nextEnd) },
        ]}
      />
      <Listed<FormUploads>
        label={t('Files that no record has')}
        loaded={loaded}
        rows={uploads}
        rowKey="form"
        empty={t('No file waits.')}
        columns={[
          { title: t('Files for'), dataIndex: 'form' },
          { title: t('Count'), dataIndex: 'count' },
          { title: t('Size'), key: 'size', render: (_, it) => size(it.bytes) },
          { title: t('The first goes'), key: 'end', render: (_, it) => at(it.nextEnd) },
        ]}
      />
      <Typography.Title level={2}>{t('Look over the data')}</Typography.Title>
      <Examination />
      <Typography.Title level={2}>{t('Backup')}</Typography.Title>
      <p>
        {t(
          'A copy of everything as it is at this moment: records, files, forms, people. Submissions go on meanwhile.',
        )}
      </p>
      <Button href="/api/backup" download={`nodley-${new Date().toISOString().slice(0, 10)}.tar`}>
        {t('Download a backup')}
      </Button>
      <Outside
        title={t('Whom forms ask')}
        loaded={asked}
        empty={t('The settings have nobody whom forms ask.')}
      />
      <Outside
        title={t('Where forms look things up')}
        loaded={looked}
        empty={t('The settings have no database in which forms look things up.')}
      />
    </>
  );
}

interface OutsideProps {
  title: string;
  loaded: Loaded<Asked[]>;
  empty: string;
}

/** Those outside that forms need, and whether they answer. */
function Outside({ title, loaded, empty }: OutsideProps) {
  return (
    <>
      <Typography.Title level={2}>{title}</Typography.Title>
      <Listed<Asked>
        label={title}
        loaded={loaded}
        rows={loaded.value ?? []}
        rowKey="name"
        empty={empty}
        columns={[
          { title: t('Name'), dataIndex: 'name' },
          { title: t('Where'), dataIndex: 'where' },
          {
            title: t('State'),
            key: 'state',
            render: (_, it) =>
              it.resting ? t('Does not answer, and is left alone for a while') : t('On'),
          },
        ]}
      />
    </>
  );
}

const at = (moment: number) => minute(new Date(moment).toISOString());

/** Everything is read, so it is done when somebody asks for it. */
function Examination() {
  const [looked, setLooked] = useState<{ findings?: Finding[]; error?: string }>({});
  const [working, setWorking] = useState(false);
  const look = () => {
    setWorking(true);
    findings()
      .then(
        (found) => setLooked({ findings: found }),
        (failure: unknown) => setLooked({ error: inWords(failure) }),
      )
      .finally(() => setWorking(false));
  };
  const wrong = (looked.findings ?? []).filter(({ ok }) => !ok).length;
  return (
    <>
      <p>
        {t('Whether files, tables and indexes are sound. All data are read, and none changed.')}
      </p>
      <Button loading={working} onClick={look}>
        {t('Look over the data now')}
      </Button>
      <p role="status">
        {looked.error}
        {looked.findings &&
          (wrong === 0 ? t('All is well.') : t('Something is wrong: {count}.', { count: wrong }))}
      </p>
      {looked.findings && (
        <table className="plain">
          <thead>
            <tr>
              <th scope="col">{t('What was looked at')}</th>
              <th scope="col">{t('Finding')}</th>
            </tr>
          </thead>
          <tbody>
            {looked.findings.map(({ what, ok, detail }) => (
              <tr key={what}>
                <td>{what}</td>
                <td>
                  <strong>{ok ? t('sound') : t('wrong')}</strong>: {detail}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

function Disk({ disk }: { disk: DiskUse }) {
  const days = daysLeft(disk);
  const full = Math.round((100 * (disk.total - disk.free)) / disk.total);
  return (
    <>
      <p>
        <strong>
          {days === undefined
            ? t('It does not grow: nothing was accepted in the last week.')
            : days > 3650
              ? t('At this pace it lasts for more than ten years.')
              : t('At this pace it lasts for {days} days.', { days })}
        </strong>
      </p>
      <Progress
        percent={full}
        status={full > 90 ? 'exception' : 'normal'}
        aria-label={t('How full the disk is')}
        format={() =>
          t('{free} of {total} free', { free: size(disk.free), total: size(disk.total) })
        }
      />
      <dl className="facts">
        <dt>{t('Database')}</dt>
        <dd>
          {t('{size}, of it {log} the log of attempts', {
            size: size(disk.database),
            log: size(disk.log),
          })}
        </dd>
        <dt>{t('Files')}</dt>
        <dd>{size(disk.files)}</dd>
        <dt>{t('Records')}</dt>
        <dd>{disk.records}</dd>
        <dt>{t('Accepted in 7 days')}</dt>
        <dd>{disk.acceptedInWeek}</dd>
        <dt>{t('Growth in 7 days, about')}</dt>
        <dd>{size(disk.grownInWeek)}</dd>
      </dl>
    </>
  );
}
