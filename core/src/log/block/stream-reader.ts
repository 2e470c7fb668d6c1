import type { ColumnTable } from '../../column/index.js';
import { ChunkBuilder } from '../chunk/builder.js';
import type { LogFormat } from '../read/detect.js';
import { LogReader, type LogReaderOptions } from '../read/reader.js';
import { countUnreadable, LONGEST_REJECTED_TEXT, type ReadPart, type Rejected } from './parts.js';

/** Reads a log of any format from its start to its end, piece by piece, into chunks. */
export class StreamReader {
  readonly #reader: LogReader;
  #builder = new ChunkBuilder();
  #tables: ColumnTable[] = [];
  #rejected: Rejected[] = [];
  #dropped = 0;
  #unreadable = new Map<string, number>();

  constructor(options: LogReaderOptions = {}) {
    this.#reader = new LogReader(
      {
        request: (request, line, faults) => {
          this.#builder.add(request, line);
          countUnreadable(this.#unreadable, faults);
          if (this.#builder.full) this.#turn();
        },
        rejected: (line, fault, text) => {
          this.#rejected.push({ line, fault, text: text.slice(0, LONGEST_REJECTED_TEXT) });
        },
      },
      options,
    );
  }

  get format(): LogFormat {
    return this.#reader.format;
  }

  get lines(): number {
    return this.#reader.lines;
  }

  get binary(): boolean {
    return this.#reader.binary;
  }

  /** Reads on, and returns the chunks made since the last call. `ignored` is complete only at the end. */
  push(piece: Uint8Array): ReadPart {
    this.#reader.push(piece);
    return this.#taken(new Map());
  }

  end(): ReadPart {
    this.#reader.end();
    for (const [field, lines] of this.#reader.missingPlaces) this.#unreadable.set(`${field} no-such-place`, lines);
    if (this.#builder.rows > 0) this.#turn();
    return this.#taken(this.#reader.ignoredFields);
  }

  #turn(): void {
    this.#dropped += this.#builder.droppedHeaders;
    this.#tables.push(this.#builder.build());
    this.#builder = new ChunkBuilder();
  }

  #taken(ignored: ReadonlyMap<string, number>): ReadPart {
    const part = {
      tables: this.#tables,
      rejected: this.#rejected,
      ignored,
      unreadable: this.#unreadable,
      droppedHeaders: this.#dropped,
    };
    this.#unreadable = new Map();
    [this.#tables, this.#rejected, this.#dropped] = [[], [], 0];
    return part;
  }
}
