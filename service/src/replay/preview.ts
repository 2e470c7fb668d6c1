import type { MappingPreviewBody } from '@jade-fence/contract';
import { type LogFormat, LogReader, lineFaultText, type Mapping } from '@jade-fence/core/log';
import { requestBody } from './requests.js';

/** This many lines are shown. */
const SHOWN = 20;

/** What the first lines of a log are read as. Nothing is stored. */
export function previewOf(text: string, format: LogFormat | undefined, mapping: Mapping): MappingPreviewBody {
  const lines: MappingPreviewBody['lines'][number][] = [];
  const reader = new LogReader(
    {
      request: (request, line, faults = []) => {
        const reasons = faults.map((fault) => lineFaultText(fault));
        if (lines.length < SHOWN) lines.push({ line, request: requestBody(request), reasons });
      },
      rejected: (line, fault) => {
        if (lines.length < SHOWN) lines.push({ line, request: null, reasons: [lineFaultText(fault)] });
      },
    },
    { format, mapping },
  );
  reader.push(new TextEncoder().encode(text));
  reader.end();
  const missing = [...reader.missingPlaces].filter(([, count]) => count === reader.lines).map(([field]) => field);
  return { format: reader.format, lines, ignored: [...reader.ignoredFields.keys()], missing };
}
