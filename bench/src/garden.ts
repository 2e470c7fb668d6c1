import { readdirSync, readFileSync } from 'node:fs';
import { compileCountryData, readCountryCsv } from '@jade-fence/core/country';
import { type Prepared, prepare } from '@jade-fence/core/engine';
import { readWorkspace } from '@jade-fence/core/workspace';
import { LINE_FORMATS, type LineFormatName, TRAFFIC_DEFAULTS, traffic } from '@jade-fence/demo';

const DEMO = new URL('../../demo/', import.meta.url);
const PIECE_LINES = 4096;

/** The demo's workspace and country data, ready to judge by. */
export function preparedGarden(): Prepared {
  const folder = new URL('workspace/', DEMO);
  const names = readdirSync(folder).filter((name) => name.endsWith('.yaml'));
  const { workspace } = readWorkspace(
    names.map((name) => ({ name, text: readFileSync(new URL(name, folder), 'utf8') })),
  );
  const { networks } = readCountryCsv(readFileSync(new URL('country-data.csv', DEMO), 'utf8'));
  return prepare(workspace, { countryData: compileCountryData(networks), at: TRAFFIC_DEFAULTS.start });
}

/** The lines of the demo's log, made from its seed. */
export function gardenLines(requests: number, format: LineFormatName): string[] {
  const write = LINE_FORMATS[format];
  return Array.from(traffic({ ...TRAFFIC_DEFAULTS, requests }), write);
}

/** The bytes of that log in JSON Lines, in pieces of many lines: a log of any length need not be in memory. */
export function* gardenPieces(requests: number): Generator<Buffer> {
  const write = LINE_FORMATS['json-lines'];
  let lines: string[] = [];
  for (const entry of traffic({ ...TRAFFIC_DEFAULTS, requests })) {
    if (lines.push(write(entry)) < PIECE_LINES) continue;
    yield Buffer.from(`${lines.join('\n')}\n`);
    lines = [];
  }
  if (lines.length > 0) yield Buffer.from(`${lines.join('\n')}\n`);
}
