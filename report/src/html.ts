import type { Report } from '@jade-fence/core/replay';
import { escapeHtml } from '@jade-fence/core/text';
import { type Bar, type Block, type Column, outlineOf, type PageFacts } from './outline.js';

/** A report as one page that needs nothing else: no script, no outside style, everything escaped. */
export function reportHtml(report: Report, facts: PageFacts): string {
  const title = escapeHtml(`Replay ${facts.replay} of log ${facts.log}`);
  return [
    '<!doctype html>',
    '<html lang="en">',
    `<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${title}</title>`,
    `<style>${STYLE}</style></head>`,
    '<body><main>',
    ...outlineOf(report, facts).map(blockHtml),
    '</main></body>',
    '</html>',
    '',
  ].join('\n');
}

function blockHtml(block: Block): string {
  switch (block.type) {
    case 'heading':
      return `<h${block.level}>${escapeHtml(block.text)}</h${block.level}>`;
    case 'text':
      return `<p>${escapeHtml(block.text)}</p>`;
    case 'list':
      return `<ul>${block.items.map((item) => `<li>${withCode(item)}</li>`).join('')}</ul>`;
    case 'table':
      return tableHtml(block.columns, block.rows);
    case 'bars':
      return barsHtml(block.label, block.bars);
  }
}

/** Text between back-ticks is a name. */
const withCode = (text: string): string => escapeHtml(text).replace(/`([^`]+)`/g, '<code>$1</code>');

function tableHtml(columns: readonly Column[], rows: readonly (readonly string[])[]): string {
  const side = (at: number) => (columns[at]?.align === 'right' ? ' class="r"' : '');
  const head = columns.map(({ title }, at) => `<th scope="col"${side(at)}>${escapeHtml(title)}</th>`).join('');
  const line = (cells: readonly string[]) =>
    `<tr>${cells.map((cell, at) => `<td${side(at)}>${withCode(cell)}</td>`).join('')}</tr>`;
  return `<div class="t"><table><thead><tr>${head}</tr></thead><tbody>${rows.map(line).join('')}</tbody></table></div>`;
}

const WIDTH = 720;
const HEIGHT = 140;
/** Few bars stay bars. */
const WIDEST_STEP = 48;
const LABEL_HEIGHT = 18;
const MOST_LABELS = 15;
const PARTS = [
  { of: 'uncovered', label: 'uncovered' },
  { of: 'stopped', label: 'not allowed' },
  { of: 'allowed', label: 'allowed' },
] as const;

/** Stacked bars; parts that are not allowed are hatched, so that colour is not needed, and a bar has its figures. */
function barsHtml(label: string, bars: readonly Bar[]): string {
  const most = Math.max(1, ...bars.map(({ allowed, stopped, uncovered }) => allowed + stopped + uncovered));
  const step = Math.min(WIDEST_STEP, WIDTH / bars.length);
  const labelled = bars.length <= MOST_LABELS;
  const drawn = bars.map((bar, at) => {
    let y = HEIGHT;
    const parts = PARTS.map(({ of }) => {
      const height = (bar[of] / most) * HEIGHT;
      y -= height;
      return height === 0 ? '' : rect(of, at * step, y, step * 0.86, height);
    });
    const figures = PARTS.map(({ of, label }) => `${bar[of].toLocaleString('en')} ${label}`).join(', ');
    // The end of its label is enough for a day or an hour.
    const name = labelled
      ? `<text x="${(at * step).toFixed(1)}" y="${HEIGHT + 13}">${escapeHtml(bar.label.slice(-5))}</text>`
      : '';
    return `<g><title>${escapeHtml(`${bar.label}: ${figures}`)}</title>${parts.join('')}${name}</g>`;
  });
  const name = `Requests by ${label}, at most ${most.toLocaleString('en')}`;
  const legend = PARTS.toReversed().map(
    ({ of, label }) => `<span><svg class="k" viewBox="0 0 12 12">${rect(of, 0, 0, 12, 12)}</svg> ${label}</span>`,
  );
  return [
    `<figure><svg viewBox="0 0 ${WIDTH} ${HEIGHT + (labelled ? LABEL_HEIGHT : 0)}" role="img" aria-label="${escapeHtml(name)}">${HATCH}${drawn.join('')}</svg>`,
    `<figcaption>${escapeHtml(bars[0]?.label ?? '')} to ${escapeHtml(bars.at(-1)?.label ?? '')}; the highest bar is ${most.toLocaleString('en')} requests. ${legend.join(' ')}</figcaption></figure>`,
  ].join('');
}

const rect = (part: string, x: number, y: number, width: number, height: number): string =>
  `<rect class="${part}" x="${x.toFixed(1)}" y="${y.toFixed(1)}" width="${width.toFixed(1)}" height="${height.toFixed(1)}"/>`;

const HATCH =
  '<defs><pattern id="h" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="5" height="5" class="hb"/><rect width="2" height="5" class="hf"/></pattern></defs>';

const STYLE = [
  ':root{color-scheme:light dark;--ink:#23302b;--paper:#fdfcf8;--line:#d9d5c7;--soft:#5d665f;--go:#17664f;--stop:#7d2950;--none:#b9b4a3}',
  '@media(prefers-color-scheme:dark){:root{--ink:#e9e6da;--paper:#17201c;--line:#3a453f;--soft:#a9b0a6;--go:#7fcdb0;--stop:#e39abb;--none:#5c625c}}',
  'body{font:15px/1.5 system-ui,sans-serif;margin:0;background:var(--paper);color:var(--ink)}',
  'main{max-width:64rem;margin:2rem auto 4rem;padding:0 1.25rem}h1{font-size:1.5rem}h2{font-size:1.1rem;margin-top:2rem}',
  '.t{overflow-x:auto}table{border-collapse:collapse;font-variant-numeric:tabular-nums}',
  'th,td{text-align:left;vertical-align:top;padding:.2rem .9rem .2rem 0;border-bottom:1px solid var(--line)}th{font-weight:600;color:var(--soft)}',
  '.r,td:first-child{white-space:nowrap}.r{text-align:right}code{font-family:ui-monospace,monospace;font-size:.92em}',
  'figure{margin:0}figure>svg{width:100%;height:auto}text{font-size:10px;fill:var(--soft)}figcaption{color:var(--soft)}figcaption span{margin-left:1rem;white-space:nowrap}',
  '.k{width:.8em;height:.8em;vertical-align:-.05em}.allowed{fill:var(--go)}.stopped{fill:url(#h)}.uncovered{fill:var(--none)}.hb{fill:var(--paper)}.hf{fill:var(--stop)}',
].join('');
