import { Button, Progress, Typography } from 'antd';
import { minute } from '../access';
import { Failure, Waiting } from '../states';
import { useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { asks, daysLeft, service, size, type Asked, type DiskUse } from './service';
import { Listed } from '../Listed';

/** How the service stands: its disk, a backup, whom forms ask. For operators. */
export function ServiceView() {
  const loaded = useLoaded('service', service);
  const asked = useLoaded('asks', asks);
  useTitle(t('Service'));
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  if (!loaded.value) {
    return <Waiting />;
  }
  const { version, dataVersion, startedAt, disk } = loaded.value;
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
      <Typography.Title level={2}>{t('Backup')}</Typography.Title>
      <p>
        {t(
          'A copy of everything as it is at this moment: records, files, forms, people. Submissions go on meanwhile.',
        )}
      </p>
      <Button href="/api/backup" download={`nodley-${new Date().toISOString().slice(0, 10)}.tar`}>
        {t('Download a backup')}
      </Button>
      <Typography.Title level={2}>{t('Whom forms ask')}</Typography.Title>
      <Listed<Asked>
        label={t('Whom forms ask')}
        loaded={asked}
        rows={asked.value ?? []}
        rowKey="name"
        empty={t('The settings have nobody whom forms ask.')}
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
