import { editedReading, type ReadFiles, readFiles, type SourceFile } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import type { GivenDocument } from '../model/replay.js';
import type { ReadableDocument, StoredDocument } from './document.js';
import { partsOf, type VersionParts } from './texts.js';

/** Versions that were absent from this many consecutive states are dropped. */
const STATES_KEPT = 8;

/** What versions are made of, as far as it was not known to whom it is given. */
export type Parts = ReadonlyMap<number, VersionParts>;

type Known = ReadonlyMap<number, { readonly read: ReadFiles }>;

/** Remembers what versions of documents hold, so that a large one is read once and not with every edit beside it. */
export class Readings {
  readonly #known = new Map<number, { readonly read: ReadFiles; seen: number }>();
  #states = 0;

  /** Reads the documents of one state. What is in no version yet is read anew. */
  async load(knex: Knex, documents: readonly ReadableDocument[]): Promise<ReadFiles[]> {
    const unknown = documents.flatMap((each) =>
      'versionId' in each && !this.#known.has(each.versionId) ? [each.versionId] : [],
    );
    // Held while it is waited, since other states may have it forgotten meanwhile.
    const held = new Map(this.#known);
    return this.read(documents, await partsOf(knex, unknown, [...held.keys()]), held);
  }

  /** The same, where what is not known has been fetched. */
  read(documents: readonly ReadableDocument[], parts: Parts, held: Known = this.#known): ReadFiles[] {
    // One document alone is no state.
    if (documents.length > 1) this.#states++;
    const read = documents.map((document) =>
      'versionId' in document ? this.#stored(document, parts, held) : readFiles([asFile(document)]),
    );
    for (const [version, { seen }] of this.#known) if (seen <= this.#states - STATES_KEPT) this.#known.delete(version);
    return read;
  }

  /** Remembers what a new version holds, which was read before it was stored. */
  remember(versionId: number, read: ReadFiles): void {
    this.#known.set(versionId, { read, seen: this.#states });
  }

  #stored(document: StoredDocument, parts: Parts, held: Known): ReadFiles {
    const known = held.get(document.versionId) ?? this.#known.get(document.versionId);
    if (known) return this.#seen(document.versionId, known);
    const made = parts.get(document.versionId);
    if (made === undefined) throw new Error(`${document.kind} ${document.name} went away`);
    const root = this.#root(document, made, held);
    const read = made.edits.length > 0 ? editedReading(root, made.edits).read : root;
    this.remember(document.versionId, read);
    return read;
  }

  /** What the text holds that a version was edited from. It stays known as long as what was made of it. */
  #root(document: StoredDocument, { root, text }: VersionParts, held: Known): ReadFiles {
    const known = held.get(root) ?? this.#known.get(root);
    if (known) return this.#seen(root, known);
    if (text === null) throw new Error(`what ${document.kind} ${document.name} was edited from is not known`);
    const read = readFiles([asFile({ ...document, text })]);
    this.remember(root, read);
    return read;
  }

  #seen(versionId: number, { read }: { readonly read: ReadFiles }): ReadFiles {
    this.remember(versionId, read);
    return read;
  }
}

/** A document as a file to be read again. */
export function asFile(document: Pick<GivenDocument, 'kind' | 'name' | 'text'>): SourceFile {
  return { name: `${document.kind} ${document.name}, as stored`, text: document.text };
}
