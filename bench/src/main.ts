import { writeFileSync } from 'node:fs';
import Table from 'cli-table3';
import { Command } from 'commander';
import { addressListPair, addressListSizePair } from './address-list.js';
import { consoleEffect, consoleFirstLoad, consoleRequests, consoleRules } from './console.js';
import { countryLookupPair } from './country-lookup.js';
import { decisionPair } from './decision.js';
import { decisionEndpoint } from './decision-endpoint.js';
import { decisionStall } from './decision-stall.js';
import { destinationPair } from './destination.js';
import { domainListMemory, domainListSizePair } from './domain-list.js';
import { idleMemory } from './idle-memory.js';
import {
  compilePair,
  recompilePair,
  replayAgainstInterpreter,
  replayAgainstParsing,
  replayAgainstSql,
  replayOfAllMatches,
  replayOfMoreRules,
} from './large-replay.js';
import { type Figure, measure, type Pair } from './measure.js';
import { publishing } from './publishing.js';
import { readingPair } from './reading.js';
import { replayPair } from './replaying.js';
import { resolvedPair } from './resolved.js';
import { tenMillion } from './ten-million.js';
import { importMappedPair, importPair, importTextPair, requestsPage, serviceReplayPair } from './through-service.js';

type Benchmark = () => Pair | Promise<Figure | Pair | Figure[]>;

/** The benchmarks by name; each makes its data from a seed when it runs. */
const BENCHMARKS: Record<string, Benchmark> = {
  'read-json-lines': () => readingPair('json-lines'),
  'read-combined': () => readingPair('combined'),
  'replay-demo': replayPair,
  'replay-50-rules': replayAgainstInterpreter,
  'replay-50-rules-vs-parse': replayAgainstParsing,
  'replay-50-rules-vs-sql': replayAgainstSql,
  'replay-200-rules': replayOfMoreRules(200),
  'replay-1000-rules': replayOfMoreRules(1000),
  'replay-all-matches': replayOfAllMatches,
  'replay-destination-country': destinationPair,
  'replay-resolved': resolvedPair,
  compile: compilePair,
  'recompile-one-rule': recompilePair,
  'country-lookup': countryLookupPair,
  'address-list': addressListPair,
  'address-list-vs-1000': addressListSizePair,
  'domain-list': domainListMemory,
  'domain-list-vs-1000': domainListSizePair,
  decision: decisionPair,
  'import-jsonl': importPair('json-lines', 'import-jsonl'),
  'import-combined': importPair('combined', 'import-combined'),
  'import-jsonl-mapped': importMappedPair,
  'import-text': importTextPair,
  'replay-service': serviceReplayPair,
  'replay-service-10m': tenMillion,
  'requests-page': requestsPage,
  'console-requests': consoleRequests,
  'console-rules': consoleRules,
  'console-first-load': consoleFirstLoad,
  'console-effect': consoleEffect,
  publishing,
  'decision-endpoint': decisionEndpoint,
  'decision-stall': decisionStall,
  'idle-memory': idleMemory,
};

/** Those that take many minutes run only where they are named. */
const ON_DEMAND = ['replay-service-10m'];

const program = new Command('bench')
  .description(
    `Measures Jade Fence beside floors of the same run. Without names it runs every benchmark but ${ON_DEMAND.join(', ')}.`,
  )
  .argument('[names...]', `some of: ${Object.keys(BENCHMARKS).join(', ')}`)
  .option('--json <file>', 'also write the figures to this file; README.md describes its form')
  .action(async (names: string[], { json }: { readonly json?: string }) => {
    const unknown = names.filter((name) => !Object.hasOwn(BENCHMARKS, name));
    if (unknown.length > 0)
      program.error(`No benchmark is called ${unknown.join(', ')}; known: ${Object.keys(BENCHMARKS).join(', ')}.`);
    const figures: Figure[] = [];
    for (const [name, make] of Object.entries(BENCHMARKS)) {
      if (names.length > 0 ? !names.includes(name) : ON_DEMAND.includes(name)) continue;
      console.error(`• ${name}`);
      const made = await make();
      figures.push(...('figure' in made ? [await measure(made)] : [made].flat()));
    }
    console.log(tableOf(figures));
    if (json !== undefined) writeFileSync(json, `${JSON.stringify(figures, null, 2)}\n`);
  });

await program.parseAsync();

function tableOf(figures: readonly Figure[]): string {
  const table = new Table({
    head: ['benchmark', 'median', 'unit', 'floor', 'median', 'ratio', 'spread'],
    style: { head: [], border: [] },
  });
  const short = (value: number) => value.toLocaleString('en', { maximumSignificantDigits: 3 });
  for (const { name, value, unit, floor, ratio, spread } of figures)
    table.push([
      name,
      short(value),
      unit,
      floor.name,
      short(floor.value),
      short(ratio),
      `${short(spread.figure)} / ${short(spread.floor)}`,
    ]);
  return table.toString();
}
