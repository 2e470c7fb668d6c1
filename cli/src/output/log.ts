import type { ImportBody, LogBody } from '@jade-fence/contract';
import { safe } from './safe.js';
import { count, counted } from './table.js';
import type { Paint } from './terminal.js';

/** What an import brought, and what of it could not be read. */
export function formatImported(log: LogBody, paint: Paint): string {
  const ignored = Object.entries(log.ignoredFields).map(([name, times]) => `${safe(name)} (${count(times)})`);
  const lines = [
    `Imported ${counted(log.requests, 'request', 'requests')} of ${counted(log.lines, 'line', 'lines')} as log ${paint.bold(log.name)} (${log.format}).`,
  ];
  if (log.rejected > 0)
    lines.push(
      `${paint.yellow('!')} ${counted(log.rejected, 'line', 'lines')} could not be read; see them with \`jade-fence log rejected ${log.name}\`.`,
    );
  const nowhere = log.unreadable.filter(({ reason }) => reason === 'no-such-place').map(({ field }) => safe(field));
  if (nowhere.length > 0)
    lines.push(
      `${paint.yellow('!')} No line has anything at the place that the mapping names for ${nowhere.join(', ')}.`,
    );
  const unreadable = log.unreadable.filter(({ reason }) => reason !== 'no-such-place');
  if (unreadable.length > 0) {
    const values = unreadable.map((each) => `${safe(each.field)} (${safe(each.reason)}, ${count(each.count)})`);
    lines.push(`${paint.yellow('!')} Values that could not be read left their fields unseen: ${values.join(', ')}.`);
  }
  for (const { file, reason } of log.damagedFiles)
    lines.push(`${paint.yellow('!')} ${safe(file)}: ${safe(reason)}; what is in front of that was taken.`);
  if (log.looksWrong)
    lines.push(`${paint.yellow('!')} That is most of them: the format looks wrong. Try another with --format.`);
  if (log.redacted.length > 0)
    lines.push(`Stored without ${log.redacted.map(safe).join(', ')}; rules that test that are blind spots here.`);
  if (ignored.length > 0)
    lines.push(`${paint.yellow('!')} Ignored fields that requests do not have: ${ignored.join(', ')}.`);
  if (log.sameAs && log.sameAs.length > 0)
    lines.push(`${paint.yellow('!')} It has the same content as ${log.sameAs.join(', ')}.`);
  return lines.join('\n');
}

/** What is said of a log that the service has, and imports by itself. */
export function formatHandedOver({ id, log }: ImportBody): string {
  return `The service has all of log ${log}, and imports it by itself (import ${id}). See \`jade-fence import list\`.`;
}
