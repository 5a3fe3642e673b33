/** A pass is renewed so long before its end, or when a tenth of its time is left. */
const MARGIN = 60_000;

/**
 * Gives the pass that calls carry, and asks for a fresh one before it ends. Calls that need one at
 * the same time share it. How long a pass is good for stands in it (`pass.SECONDS.…`), and counts
 * from when it came, so that a wrong clock does no harm.
 *
 * @param ask is told the pass so far, empty at first; it may give the same again
 */
export function renewed(ask: (known: string) => string | Promise<string>): () => Promise<string> {
  let known = '';
  let ends = 0;
  let asked: Promise<string> | undefined;
  const renew = async () => {
    const fresh = await ask(known);
    if (fresh !== known) {
      known = fresh;
      const time = secondsOf(fresh) * 1_000;
      ends = Date.now() + time - Math.min(MARGIN, time / 10);
    }
    return known;
  };
  return () => {
    if (Date.now() < ends) {
      return Promise.resolve(known);
    }
    asked ??= renew().finally(() => (asked = undefined));
    return asked;
  };
}

/** How long a pass is good for, or a token of an issuer (RFC 7519); a key says nothing of it. */
function secondsOf(token: string): number {
  const pass = /^pass\.(\d+)\./.exec(token);
  if (pass) {
    return Number(pass[1]);
  }
  try {
    const [, claims = ''] = token.split('.');
    const json = atob(claims.replace(/-/g, '+').replace(/_/g, '/'));
    const { exp, iat = 0 } = JSON.parse(json) as { exp: number; iat?: number };
    // It may have been made long before the page got it.
    return Math.min(exp - iat, exp - Date.now() / 1_000);
  } catch {
    return Infinity;
  }
}

/**
 * The pass of an element with `data-pass`. Before it ends, the page may have put another one there;
 * else, and where it is empty, the event `nodley:pass` asks for it: the page calls
 * `event.detail.use` with a pass, or with a promise of one.
 */
export function passOf(element: HTMLElement): () => Promise<string> {
  return renewed((known) => {
    let pass: string | Promise<string> = element.dataset.pass ?? '';
    if (pass === known) {
      const use = (fresh: string | Promise<string>) => (pass = fresh);
      element.dispatchEvent(new CustomEvent('nodley:pass', { bubbles: true, detail: { use } }));
    }
    return Promise.resolve(pass).then((it) => (element.dataset.pass = it));
  });
}
