import type { Report } from '@jade-fence/core/replay';
import { type Block, type Column, outlineOf, type PageFacts } from './outline.js';

/** A report as Markdown, with the tables of GitHub's flavour that most readers know. */
export const reportMarkdown = (report: Report, facts: PageFacts): string =>
  `${outlineOf(report, facts).map(blockText).join('\n\n')}\n`;

function blockText(block: Block): string {
  switch (block.type) {
    case 'heading':
      return `${'#'.repeat(block.level)} ${escaped(block.text)}`;
    case 'text':
      return escaped(block.text);
    case 'list':
      return block.items.map((item) => `- ${escaped(item)}`).join('\n');
    case 'table':
      return tableText(block.columns, block.rows);
    case 'bars': {
      const columns: Column[] = [
        { title: block.label, align: 'left' },
        ...['allowed', 'not allowed', 'uncovered'].map((title): Column => ({ title, align: 'right' })),
      ];
      const rows = block.bars.map(({ label, allowed, stopped, uncovered }) => [
        label,
        ...[allowed, stopped, uncovered].map((each) => each.toLocaleString('en')),
      ]);
      return tableText(columns, rows);
    }
  }
}

function tableText(columns: readonly Column[], rows: readonly (readonly string[])[]): string {
  const line = (cells: readonly string[]) => `| ${cells.map(escaped).join(' | ')} |`;
  const rule = `|${columns.map(({ align }) => (align === 'right' ? '---:' : '---')).join('|')}|`;
  return [line(columns.map(({ title }) => title)), rule, ...rows.map(line)].join('\n');
}

/** Strangers choose the contents of logs: nothing of it may be read as markup. Marks around code are ours. */
const escaped = (text: string): string => text.replace(/[\\*_[\]<>|#~!]/g, '\\$&').replaceAll('\n', ' ');
