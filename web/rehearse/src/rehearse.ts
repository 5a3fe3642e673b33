/**
 * The rehearsal of a hosted form, for developers who are signed in: the service sends this to nobody
 * else. It goes before the page's own script, so that it hears of every form that is opened.
 */
import type { Field } from 'nodley-page';
import { Exchanges } from './exchange';
import { inStore } from './in-store';
import { follow, typedBefore } from './follow';
import { mark, unmark, type Text } from './keys';
import { Network } from './network';
import { type Bound, Panel } from './panel';
import { warnOf } from './parity';
import { Samples } from './samples';
import { twice } from './twice';
import { whoDecided } from './who-decided';
import { say } from './words';

// On a page of another site the service is elsewhere, and the session does not go along.
const { origin = '', token = '' } = globalThis.nodleyRehearsal ?? {};
const headers: Record<string, string> = token ? { Authorization: `Bearer ${token}` } : {};

const panels = document.createElement('div');
panels.className = 'rehearsals';

const network = new Network();
const exchanges = new Exchanges();
network.listen((exchange) => exchanges.add(exchange));

/** Asks the service, past all that is rehearsed. */
async function ask<T>(path: string): Promise<T> {
  const response = await network.real(`${origin}/api${path}`, {
    headers: { Accept: 'application/json', ...headers },
  });
  const reply = (await response.json()) as T & { detail?: string; title?: string };
  if (!response.ok) {
    throw new Error(reply.detail ?? reply.title);
  }
  return reply;
}

/** A text of the service's. */
async function text(path: string): Promise<string> {
  return (await network.real(`${origin}/api${path}`, { headers })).text();
}

/** The names of secrets, wherever they stand. */
function secrets(fields: Field[]): string[] {
  return fields.flatMap((field) => [
    ...(field.type === 'secret' ? [field.name] : []),
    ...secrets(field.fields ?? []),
  ]);
}

document.addEventListener('nodley:opened', (event) => {
  const form = event.target as HTMLFormElement;
  const { opened } = (event as CustomEvent<{ opened: Bound['opened'] }>).detail;
  const { form: name, language = 'en' } = opened.description;
  const hidden = secrets(opened.description.fields);
  hidden.forEach((field) => exchanges.hide(field));
  const samples = new Samples(
    () => ask(`/forms/${name}/samples?wrong=true&lang=${language}`),
    async (other, id) => (await ask<{ called: string }>(`/forms/${other}/records/${id}`)).called,
  );
  const title = panels.children.length
    ? `${say('rehearsal')} ${panels.children.length + 1}`
    : say('rehearsal');
  const panel = new Panel(title, {
    right: async () => {
      const { samples: made } = await ask<{ samples: { values: Record<string, unknown> }[] }>(
        `/forms/${name}/samples?seed=${1 + Math.floor(Math.random() * 999_999)}`,
      );
      return samples.fill({ form, opened }, made[0]!.values);
    },
    faults: () => samples.faults({ form, opened }),
    wrong: (index) => samples.wrong({ form, opened }, index),
    network: (manner) => network.set(manner),
    rules: (on) => {
      opened.ruled = on;
      // What shows is drawn anew by the next change; this is one.
      Object.keys(opened.state().fields).forEach((field) => opened.leave(field));
    },
    keys: async (on) => {
      unmark(form);
      if (on) {
        const { keys } = await ask<{ keys: Text[] }>(`/texts/${name}/${language}/keys`);
        mark(form, keys, opened);
      }
    },
    last: async () => [
      ...(await exchanges.told(ask, name)),
      ...(await whoDecided(exchanges.errors(), () => text(`/forms/${name}/file`))),
      ...(await inStore(exchanges.last(), name, ask)),
    ],
    twice: () => twice(network.real, origin, { form, opened }),
  });
  form.addEventListener('nodley:refused', (refused) => {
    if (!network.refuses) {
      warnOf(refused as CustomEvent, opened);
    }
  });
  panels.append(panel.element);
  document.body.append(panels);
  const typed = typedBefore(opened.description.fields.map((field) => field.name));
  if (typed) {
    void samples.fill({ form, opened }, typed);
  }
  follow(
    { opened },
    hidden,
    async () => (await ask<{ revision: number }>(`/forms/${name}`)).revision,
  );
});
