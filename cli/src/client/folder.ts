import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { ObjectBody } from '@jade-fence/contract';
import type { SourceFile } from '@jade-fence/core/workspace';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** What was fetched into a folder, so that it is known later what was changed there and what at the service. */
export interface Fetched {
  /** The versions of the objects, by kind and name. */
  readonly versions: Readonly<Record<string, number>>;
  /** The hashes of the files as they were written. */
  readonly files: Readonly<Record<string, string>>;
}

const RECORD = '.jade-fence.json';
/** A name from the service is written only where it stays in the folder. */
const SAFE_FILE = /^[\w-][\w.-]*(?:\/[\w-][\w.-]*)*\.ya?ml$/;

export const keyOf = ({ kind, name }: { readonly kind: string; readonly name: string }): string => `${kind} ${name}`;

export function readFetched(folder: string): Fetched | undefined {
  const file = join(folder, RECORD);
  if (!existsSync(file)) return undefined;
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Fetched;
  } catch {
    throw failure(EXIT.notHeld, 'bad-record', { file });
  }
}

/** The files that objects make: those that came from one file go there again, others each into one of its own. */
export function filesOf(objects: readonly ObjectBody[]): SourceFile[] {
  const texts = new Map<string, string[]>();
  for (const { kind, name, file, text } of objects) {
    const to = SAFE_FILE.test(file) ? file : `${kind}/${name}.yaml`;
    texts.set(to, [...(texts.get(to) ?? []), text]);
  }
  return [...texts].map(([name, parts]) => ({ name, text: parts.join('---\n') }));
}

/** Which files hold what neither was fetched nor is to be written: to write over them would lose it. */
export function changedFiles(folder: string, files: readonly SourceFile[], fetched: Fetched | undefined): string[] {
  return files
    .filter(({ name, text }) => {
      const now = textOf(join(folder, name));
      return now !== undefined && now !== text && hashOf(now) !== fetched?.files[name];
    })
    .map(({ name }) => name);
}

/** Writes the files, removes those that were fetched before and are no more, and notes what was fetched. */
export function writeFetched(
  folder: string,
  objects: readonly ObjectBody[],
  files: readonly SourceFile[],
  before: Fetched | undefined,
): void {
  const written = new Set(files.map(({ name }) => name));
  for (const [name, hash] of Object.entries(before?.files ?? {})) {
    const old = SAFE_FILE.test(name) && !written.has(name) ? textOf(join(folder, name)) : undefined;
    if (old !== undefined && hashOf(old) === hash) rmSync(join(folder, name));
  }
  for (const { name, text } of files) {
    mkdirSync(dirname(join(folder, name)), { recursive: true });
    if (textOf(join(folder, name)) !== text) writeFileSync(join(folder, name), text);
  }
  noteFetched(folder, objects, files);
}

/** Notes that the files of the folder are those of the objects. */
export function noteFetched(folder: string, objects: readonly ObjectBody[], files: readonly SourceFile[]): void {
  const record: Fetched = {
    versions: Object.fromEntries(objects.map((object) => [keyOf(object), object.version])),
    files: Object.fromEntries(files.map(({ name, text }) => [name, hashOf(text)])),
  };
  writeFileSync(join(folder, RECORD), `${JSON.stringify(record, null, 2)}\n`);
}

const textOf = (file: string): string | undefined => (existsSync(file) ? readFileSync(file, 'utf8') : undefined);

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');
