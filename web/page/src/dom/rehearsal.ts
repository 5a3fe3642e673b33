/** What the rehearsal is told of where it runs. */
declare global {
  var nodleyRehearsal: { origin: string; token: string } | undefined;
}

const TOKEN = /[#&]nodley-rehearsal=([\w.-]+)/;

let begun: Promise<void> | undefined;

/**
 * Begins the rehearsal on a page of a developer's own whose address has the token of one; before a
 * form is bound, so that all of it is heard. A page without one goes on at once.
 *
 * @param origin where the service is
 */
export async function rehearsal(origin: string, form: string): Promise<void> {
  const [, token] = TOKEN.exec(location.hash) ?? [];
  if (token) {
    begun ??= begin(origin, form, token).catch((failure: Error) =>
      console.error(`Nodley: no rehearsal: ${failure.message}`),
    );
    await begun;
  }
}

async function begin(origin: string, form: string, token: string): Promise<void> {
  // An element cannot send the token that these two need.
  const [script, look] = await Promise.all(
    ['rehearse.js', 'rehearse.css'].map(async (file) => {
      const reply = await fetch(`${origin}/rehearsal/${file}?form=${form}`, {
        headers: { Authorization: `Bearer ${token}` },
      });
      if (!reply.ok) {
        throw new Error(((await reply.json()) as { detail: string }).detail);
      }
      return reply.text();
    }),
  );
  const style = document.createElement('style');
  style.textContent = look!;
  document.head.append(style);
  globalThis.nodleyRehearsal = { origin, token };
  const address = URL.createObjectURL(new Blob([script!], { type: 'text/javascript' }));
  await import(/* @vite-ignore */ address);
}
