import { Button, Typography } from 'antd';
import { Refusal, type Description, type Field } from 'nodley-page';
import { useState } from 'react';
import { call } from '../api';
import { json, minute } from '../access';
import { useRights } from '../caller';
import { SmallForm } from '../SmallForm';
import { inWords, useLoaded } from '../useLoaded';
import { t } from '../words';

/** How a page or a program uses this form: ready to copy, with its names and this service's address. */
export function WireTab({ description }: { description: Description }) {
  const { form } = description;
  const at = location.origin;
  const rights = useRights(description);
  const sample = useLoaded(`sample ${form}`, async () => {
    const reply = await call(`/forms/${form}/samples`);
    return ((await reply.json()) as { samples: { values: object }[] }).samples[0]?.values ?? {};
  });
  const values = JSON.stringify(sample.value ?? {});
  return (
    <>
      <Copied
        title={t('In a page of yours')}
        text={`<div data-nodley="${form}"></div>\n<script type="module" src="${at}/page/nodley.js"></script>`}
      />
      <p className="help">
        {t('A page of another site is named in the form file:')}{' '}
        <code>origins: [https://www.example.org]</code>
      </p>
      <Copied title={t('Your own HTML')} text={html(description, at)} />
      <Copied
        title="React"
        text={`import { OpenForm, Service } from 'nodley-page';\nimport { useOpenForm, useField } from 'nodley-react';\n\nconst service = new Service('${at}');\nconst description = await service.describe('${form}');\n// In a component:\nconst opened = useOpenForm(() => new OpenForm(description, { mode: 'add', values: {}, service }));\nconst ${firstName(description.fields)} = useField(opened, '${firstName(description.fields)}');`}
      />
      <Copied title={t('A check, and an add, with curl')} text={curl(at, form, values)} />
      <Copied
        title={t('The command line')}
        text={`export NODLEY_KEY=…\nnodley --at ${at} check ${form} ${firstName(description.fields)}=…\nnodley --at ${at} records ${form}`}
      />
      {rights.author && <OwnRehearsal form={form} />}
      <TryIt form={form} values={JSON.stringify(sample.value ?? {}, null, 2)} />
    </>
  );
}

function firstName(fields: Field[]): string {
  return fields[0]?.name ?? 'field';
}

function curl(at: string, form: string, values: string): string {
  const quoted = values.replaceAll("'", "'\\''");
  return (
    `curl -s ${at}/api/forms/${form}/checks --json '${quoted}'\n` +
    `curl -s ${at}/api/forms/${form}/records -H "Authorization: Bearer $NODLEY_KEY" --json '${quoted}'`
  );
}

function html({ form, fields }: Description, at: string): string {
  const controls = fields
    .filter((field) => !field.fields)
    .map(
      ({ name, label, control }) =>
        `  <label for="${name}">${escaped(label)}</label>\n` +
        (control === 'textarea'
          ? `  <textarea id="${name}" name="${name}"></textarea>`
          : control === 'select' || control === 'radio'
            ? `  <select id="${name}" name="${name}"></select>`
            : `  <input id="${name}" name="${name}"${/checkbox|switch/.test(control) ? ' type="checkbox"' : ''}>`),
    );
  return (
    `<form data-nodley="${form}" method="post" action="${at}/forms/${form}/new">\n` +
    `${controls.join('\n')}\n  <button>…</button>\n</form>\n` +
    `<script type="module" src="${at}/page/nodley.js"></script>`
  );
}

function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
}

function Copied({ title, text }: { title: string; text: string }) {
  return (
    <section>
      <h2>{title}</h2>
      <Typography.Paragraph
        className="json copied"
        copyable={{ text, tooltips: false }}
        aria-label={title}
      >
        {text}
      </Typography.Paragraph>
    </section>
  );
}

/** Makes the address at which a page of the developer's own has the panel of the rehearsal. */
function OwnRehearsal({ form }: { form: string }) {
  const [made, setMade] = useState<{ address: string; until: string }>();
  return (
    <section>
      <h2>{t('Rehearse on a page of yours')}</h2>
      <p>
        {t(
          'The page then has a panel that fills the form in, plays a lost network, and tells who decided what.',
        )}
      </p>
      <SmallForm
        label={t('Rehearse on a page of yours')}
        prefix="rehearse-"
        asked={[
          {
            name: 'address',
            label: t('Address of the page'),
            help: t('One that the origins of the form name, such as https://www.example.org/join.'),
            missing: t('Say where the page is.'),
          },
        ]}
        button={t('Make the address')}
        primary={false}
        send={async ({ address = '' }) => {
          if (!URL.canParse(address) || !/^https?:/.test(address)) {
            throw notAnAddress(t('This is not the address of a page.'));
          }
          const { token, until } = await json<{ token: string; until: string }>(
            `/forms/${form}/rehearsal`,
            'POST',
          );
          const page = new URL(address);
          page.hash = `nodley-rehearsal=${token}`;
          setMade({ address: page.href, until });
        }}
      />
      <div role="status">
        {made && (
          <p>
            <a href={made.address} target="_blank" rel="noreferrer">
              {t('Open the rehearsal')}
            </a>{' '}
            {t('(good until {time}; whoever has the address can read the form file and attempts)', {
              time: minute(made.until),
            })}
          </p>
        )}
      </div>
    </section>
  );
}

/** As the service would refuse it. */
function notAnAddress(detail: string): Refusal {
  const errors = [{ pointer: '#/address', code: 'bad-input', detail }];
  return new Refusal({ type: '', title: detail, status: 422, errors });
}

/** Sends a check, and shows what went and what came back. */
function TryIt({ form, values }: { form: string; values: string }) {
  const [told, setTold] = useState('');
  const send = () =>
    void fetch(`/api/forms/${form}/checks`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: values,
    }).then(
      async (reply) => {
        const headers = ['Content-Type', 'X-Request-Id']
          .map((name) => `${name}: ${reply.headers.get(name)}`)
          .join('\n');
        setTold(
          `POST /api/forms/${form}/checks\nContent-Type: application/json\n\n${values}\n\n` +
            `${reply.status}\n${headers}\n\n${JSON.stringify(await reply.json(), null, 2)}`,
        );
      },
      (failure: unknown) => setTold(inWords(failure)),
    );
  return (
    <section>
      <h2>{t('Try it')}</h2>
      <p>{t('Sends a check with a sample; nothing is kept.')}</p>
      <Button onClick={send}>{t('Send a check')}</Button>
      <div aria-live="polite">
        {told && (
          <pre className="json" tabIndex={0}>
            {told}
          </pre>
        )}
      </div>
    </section>
  );
}
