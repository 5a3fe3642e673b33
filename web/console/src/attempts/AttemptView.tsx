import { Alert, Button, Typography } from 'antd';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { Failure, Waiting } from '../states';
import { inWords, useLoaded } from '../useLoaded';
import { useTitle } from '../useTitle';
import { t } from '../words';
import { attempt, judgeAgain, type Step, type WholeAttempt } from './attempts';
import { Verdict } from './Verdict';

/** One attempt: what was sent, what became of it, and how long each step took. */
export function AttemptView() {
  const { id = '' } = useParams();
  const loaded = useLoaded(id, () => attempt(id));
  useTitle(t('Attempt'));
  if (loaded.error) {
    return <Failure text={loaded.error} again={loaded.again} />;
  }
  return loaded.value ? <OneAttempt attempt={loaded.value} /> : <Waiting />;
}

function OneAttempt({ attempt: it }: { attempt: WholeAttempt }) {
  return (
    <>
      <p className="trail">
        <Link to={`/attempts?form=${it.form}`}>{t('Attempts')}</Link>
      </p>
      <Typography.Title level={1}>
        {t('Attempt at {form}', { form: it.form })} <Verdict of={it} />
      </Typography.Title>
      <dl className="facts">
        <Fact name={t('When')}>{it.at}</Fact>
        <Fact name={t('What')}>{t(it.mode)}</Fact>
        <Fact name={t('Revision')}>{it.revision}</Fact>
        {it.by && <Fact name={t('By')}>{it.by}</Fact>}
        {it.from && <Fact name={t('From')}>{it.from}</Fact>}
        {it.door && <Fact name={t('Sent as')}>{it.door}</Fact>}
        {it.record && (
          <Fact name={t('Record')}>
            <Link to={`/forms/${it.form}/records/${it.record}`}>{it.record}</Link>
          </Fact>
        )}
        {it.detail && <Fact name={t('Problem')}>{it.detail}</Fact>}
        {it.deliveries.length > 0 && (
          <Fact name={t('It caused')}>
            {it.deliveries.map(({ outlet, state }) => `${outlet} (${t(state)})`).join(', ')}
          </Fact>
        )}
      </dl>
      {it.errors.length > 0 && (
        <>
          <h2>{t('What was wrong')}</h2>
          <ul className="errors">
            {it.errors.map(({ pointer, code, detail }, index) => (
              <li key={index}>
                <code>{pointer.slice(2) || t('the form')}</code> <code>{code}</code> {detail}
              </li>
            ))}
          </ul>
        </>
      )}
      {it.steps && it.steps.length > 0 && (
        <>
          <h2>{t('How long each step took')}</h2>
          <Timeline steps={it.steps} />
        </>
      )}
      <h2>{t('What was sent')}</h2>
      {it.values && Object.keys(it.values).length > 0 ? (
        <>
          <pre className="json">{JSON.stringify(it.values, null, 2)}</pre>
          {it.leftOut && (
            <p>{t('{count} more values were too much for the log.', { count: it.leftOut })}</p>
          )}
          {it.mode !== 'edit' && <Again form={it.form} values={it.values} />}
        </>
      ) : (
        <p>{t('Its values are not kept, or for others to see.')}</p>
      )}
    </>
  );
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </>
  );
}

/** The steps one below the other, each a bar of its time where it lies in the whole. */
function Timeline({ steps }: { steps: Step[] }) {
  const whole = Math.max(
    1,
    steps.reduce((sum, { micros }) => sum + micros, 0),
  );
  let before = 0;
  return (
    <table className="timeline">
      <thead>
        <tr>
          <th scope="col">{t('Step')}</th>
          <th scope="col">{t('About')}</th>
          <th scope="col">{t('Took')}</th>
          <td />
        </tr>
      </thead>
      <tbody>
        {steps.map(({ step, about, micros }, index) => {
          const from = (100 * before) / whole;
          before += micros;
          return (
            <tr key={index}>
              <th scope="row">{step}</th>
              <td>{about}</td>
              <td className="number">{(micros / 1000).toFixed(2)} ms</td>
              <td className="lane" aria-hidden="true">
                <svg viewBox="0 0 100 10" preserveAspectRatio="none">
                  <rect x={from} y="1" width={Math.max(0.5, (100 * micros) / whole)} height="8" />
                </svg>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Judges the same values by the form as it is today; nothing is kept. */
function Again({ form, values }: { form: string; values: object }) {
  const [told, setTold] = useState<string[]>();
  const judge = () =>
    void judgeAgain(form, values).then(
      ({ errors }) =>
        setTold(errors.map(({ pointer, detail, code }) => detail ?? `${pointer} ${code}`)),
      (failure: unknown) => setTold([inWords(failure)]),
    );
  return (
    <>
      <Button onClick={judge}>{t('Judge this again with today’s form')}</Button>
      <div aria-live="polite">
        {told && (
          <Alert
            className="told"
            type={told.length ? 'warning' : 'success'}
            showIcon
            title={
              told.length ? t('It would be refused.') : t('It would be accepted, as an add today.')
            }
            {...(told.length && {
              description: (
                <ul>
                  {told.map((sentence, index) => (
                    <li key={index}>{sentence}</li>
                  ))}
                </ul>
              ),
            })}
          />
        )}
      </div>
    </>
  );
}
