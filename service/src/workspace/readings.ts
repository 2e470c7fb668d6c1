import { type ReadFiles, readFiles, type SourceFile } from '@jade-fence/core';
import type { StoredDocument } from './store.js';

/** Versions that so many states in a row did not have are forgotten. */
const STATES_KEPT = 4;

type Readable = Pick<StoredDocument, 'kind' | 'name' | 'text'> & { readonly versionId?: number };

/** Remembers what versions of documents hold, so that a large one is read once and not with every edit beside it. */
export class Readings {
  readonly #known = new Map<number, { readonly read: ReadFiles; seen: number }>();
  #states = 0;

  /** Reads the documents of one state. What is in no version yet is read anew. */
  readAll(documents: readonly Readable[]): ReadFiles[] {
    this.#states++;
    const read = documents.map((document) => this.#read(document));
    for (const [version, { seen }] of this.#known) if (seen <= this.#states - STATES_KEPT) this.#known.delete(version);
    return read;
  }

  /** Remembers what a new version holds, which was read before it was stored. */
  remember(versionId: number, read: ReadFiles): void {
    this.#known.set(versionId, { read, seen: this.#states });
  }

  #read(document: Readable): ReadFiles {
    if (document.versionId === undefined) return readFiles([asFile(document)]);
    const known = this.#known.get(document.versionId) ?? { read: readFiles([asFile(document)]), seen: 0 };
    known.seen = this.#states;
    this.#known.set(document.versionId, known);
    return known.read;
  }
}

/** A document as a file to be read again. */
export function asFile(document: Pick<StoredDocument, 'kind' | 'name' | 'text'>): SourceFile {
  return { name: `${document.kind} ${document.name}, as stored`, text: document.text };
}
