import type { AskedRequest, Decided } from './service.js';

const escaped = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

const page = (title: string, body: string): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title><link rel="stylesheet" href="/-/style.css"></head>
<body><main><h1>${escaped(title)}</h1>
${body}
</main></body></html>
`;

export const STYLE =
  ':root{color-scheme:light dark}body{font:1.0625rem/1.6 system-ui,sans-serif;margin:0}main{max-width:40rem;margin:8vh auto;padding:0 1.5rem}';

/** Where to go, and as whom. */
export function startPage(
  probes: ReadonlyMap<string, string>,
  chosen: string | undefined,
  sites: readonly string[],
): string {
  const whom = [...probes].map(([name, address]) => {
    const mark = name === chosen ? ' (you)' : '';
    return `<li><a href="/-/as/${encodeURIComponent(name)}">${escaped(name)}</a> at ${escaped(address)}${mark}</li>`;
  });
  const where = sites.map((site) => `<li><a href="/${site}">${escaped(site)}</a></li>`);
  return page(
    'The garden’s gate',
    `<p>Come as one of the probes, then open a page; the rules in force decide.</p><h2>As</h2><ul>${whom.join('')}</ul><h2>To</h2><ul>${where.join('')}</ul>`,
  );
}

/** What the site itself would show. */
export function sitePage({ host, path, peer }: AskedRequest, { policy, rule }: Decided): string {
  const by = policy === null ? 'No policy covers it.' : `Let through by ${policy} / ${rule ?? 'default'}.`;
  return page(
    host,
    `<p>This is ${escaped(path)}, as the site shows it to ${escaped(peer)}.</p><p>${escaped(by)}</p><p><a href="/">Back to the gate</a></p>`,
  );
}

/** What a client sees that is not let through, with what it can do about that. */
export function stoppedPage(target: string, { answer, rule, policy }: Decided, said: string | undefined): string {
  const { notice, asks } = answer ?? {};
  const text = (notice?.detail ?? `The rule ${rule ?? 'default'} of ${policy} says so.`).split('\n\n');
  const contact = notice?.contact === undefined ? '' : `<p>${escaped(notice.contact)}</p>`;
  const shown = said === undefined ? '' : `<p role="alert">${escaped(said)}</p>`;
  return page(
    notice?.title ?? 'Not open here',
    `${text.map((each) => `<p>${escaped(each)}</p>`).join('')}${contact}${shown}${asks ? form(target, asks) : ''}`,
  );
}

function form(target: string, asks: NonNullable<NonNullable<Decided['answer']>['asks']>): string {
  const open = `<form method="post" action="/-/answer"><input type="hidden" name="target" value="${escaped(target)}">`;
  switch (asks.for) {
    case 'yes':
      return `${open}<button name="yes" value="yes">Go on all the same</button></form>`;
    case 'passcode':
      return `${open}<label>Passcode <input name="passcode" type="password" required></label> <button>Open</button></form>`;
    case 'number':
      return `${open}<input type="hidden" name="number"><p>One moment, while your browser shows that it is one.</p></form><script src="/-/solve.js" data-seed="${escaped(asks.seed ?? '')}" data-bits="${asks.zeroBits}"></script>`;
  }
}

/** Finds the number that a challenge requires, and sends the form. */
export const SOLVER = `const { seed, bits } = document.currentScript.dataset;
const form = document.querySelector('form');
(async () => {
  for (let number = 0; ; number++) {
    const hash = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(seed + ':' + number));
    if (new DataView(hash).getUint32(0) >>> (32 - Number(bits)) !== 0) continue;
    form.elements.number.value = number;
    return form.submit();
  }
})();
`;
