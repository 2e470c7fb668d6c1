import { useEffect, useState } from 'react';
import { Panel } from './panel.js';

/** The keys of the console: where, which, and what they do. */
type Key = readonly [key: string, does: string];
const KEYS: readonly (readonly [where: string, keys: readonly Key[]])[] = [
  [
    'Anywhere',
    [
      [
        '/',
        'to the box that looks up hosts, addresses, users and names, and goes to pages and deeds: go to draft, new rule in …',
      ],
      ['?', 'this list'],
      ['Esc', 'closes what lies over the page'],
      ['Tab', 'to the next thing that can be pressed or written into; the first leads past the head of the page'],
    ],
  ],
  [
    'The rules of a policy',
    [
      ['Space on ⠿', 'takes a rule up, and puts it down'],
      ['↑ ↓', 'move the rule that is held'],
      ['Enter on ⋯', 'what can be done with a rule; the arrows choose'],
    ],
  ],
  [
    'A table',
    [
      ['↑ ↓', 'to the row above or below'],
      ['Home End', 'to the first and the last row'],
      ['Enter', 'opens what the row has'],
    ],
  ],
  [
    'The answers of a check',
    [
      ['Enter', 'to the next answer, with Shift to the one before'],
      ['a b c r u', 'the answer that begins with the letter; Delete expects none'],
    ],
  ],
  [
    'A text',
    [
      ['Ctrl-Space', 'what can be written here'],
      ['Enter', 'takes what is offered'],
      ['F8', 'to the next fault'],
      ['Ctrl-Z', 'takes back what was written last'],
      ['Ctrl-Shift-Z', 'writes it again'],
    ],
  ],
];

/** A list of all keys, which the key `?` shows. */
export function Keys() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const show = (event: KeyboardEvent) => {
      if (event.key !== '?' || isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      setOpen(true);
    };
    addEventListener('keydown', show);
    return () => removeEventListener('keydown', show);
  }, []);
  return (
    <Panel open={open} title="Keys" onClose={() => setOpen(false)}>
      {KEYS.map(([where, keys]) => (
        <section key={where} aria-label={where} className="mb-3">
          <h3 className="font-semibold">{where}</h3>
          <dl className="grid grid-cols-[9rem_1fr] gap-x-3 gap-y-0.5">
            {keys.map(([key, does]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="rounded-sm border border-edge px-1 font-mono">{key}</kbd>
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </Panel>
  );
}

/** Whether a key is being typed somewhere; also in an editor, which stands in a root of its own. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.composedPath()[0];
  return target instanceof HTMLElement && target.closest('input, textarea, [contenteditable]') !== null;
}
