import { PROBLEMS } from '@jade-fence/contract';
import { describe, expect, it } from 'vitest';
import { START_MESSAGES } from '../start-messages.js';
import { MESSAGES, type Message } from './messages.js';
import { refusal } from './refusal.js';

/** Values for any message: each is the name that the message asks for. */
const NAMES = new Proxy({}, { get: (_, name) => `«${String(name)}»` });
type AnyMessage = (values: unknown) => Message;

describe.each([
  ...Object.entries(MESSAGES as Record<string, AnyMessage>),
  ...Object.entries(START_MESSAGES as Record<string, AnyMessage>),
])('the message %s', (name, message) => {
  const { detail, remedy } = message(NAMES);

  it('says what is wrong and how to mend it, in sentences', () => {
    // The issues of these say how.
    const byIssues = name === 'invalid-input' || name === 'invalid-workspace';
    expect(detail).toMatch(/^[`«\p{Lu}].*([.…]|«message»|«reason»|«output»|«failure»)$/su);
    if (!byIssues) expect(remedy).toMatch(/^\p{Lu}.*\.$/su);
    expect(`${detail} ${remedy ?? ''}`).not.toMatch(/undefined|null|\[object|function|=>/);
  });
});

it('has a reason for the code of each', () => {
  for (const name of Object.keys(MESSAGES)) expect(Object.keys(PROBLEMS)).toContain(name.split('/')[0]);
});

it('takes the code from the name, and keeps issues beside the text', () => {
  const issues = [{ path: 'a', what: 'b' }];
  const made = refusal('role-too-low/feeds', { what: 'Feeding', role: 'editor' }, { issues });
  expect(made).toMatchObject({ code: 'role-too-low', reason: 'forbidden', detail: 'Feeding is for a editor.', issues });
});
