import fc from 'fast-check';
import { expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { type Notice, noticeHtml, noticeProblem } from './index.js';

const { workspace, issues } = readWorkspace([
  {
    name: 'n.yaml',
    text: 'notice: not-here\nstatus: 451\ntitle: "{host} is not open here"\ntext: "First.\\n\\nSecond, by {rule}."\ncontact: gate@fennelhill.example',
  },
]);
const notice = workspace.notices.get('not-here') as Notice;
const FACTS = { host: 'odds.meadowbet.example', rule: 'no-wagering' };

it('says the same as a page and as problem JSON', () => {
  expect(issues).toEqual([]);
  expect(noticeProblem(notice, 403, FACTS)).toEqual({
    type: 'about:blank',
    title: 'odds.meadowbet.example is not open here',
    status: 451,
    detail: 'First.\n\nSecond, by no-wagering.',
    contact: 'gate@fennelhill.example',
  });
  const page = noticeHtml(notice, FACTS);
  expect(page).toContain('<h1>odds.meadowbet.example is not open here</h1>');
  expect(page).toContain('<p>Second, by no-wagering.</p>');
  expect(page).toContain('<a href="mailto:gate@fennelhill.example">');
});

it('lets nothing of a request become markup', () => {
  fc.assert(
    fc.property(fc.string(), fc.string(), (host, rule) => {
      const page = noticeHtml(notice, { host: `${host}<script>alert(1)</script>`, rule: `"><img onerror=${rule}>` });
      expect(page).not.toMatch(/<(?:script|img)/);
      expect(page.match(/<h1>([^<]*)<\/h1>/)).not.toBeNull();
    }),
  );
});
