import type { AddressColumn, Codes, Column, NumberColumn, RowCodes, TextBytes, TextColumn } from './column.js';
import { numberAt } from './whole.js';

/** How the bodies of columns are made smaller, and large again. */
export interface Packing {
  readonly pack: (body: Uint8Array) => Uint8Array;
  readonly unpack: (packed: Uint8Array) => Uint8Array;
}

/** A column that is unpacked when it is first looked at: most work needs some columns only. */
export function unpackedLater(type: Column['type'], open: () => Column): Column {
  let opened: Column | undefined;
  const column = <C extends Column>(): C => {
    opened ??= open();
    return opened as C;
  };
  switch (type) {
    case 'text':
      return new LaterText(column<TextColumn>);
    case 'number':
      return new LaterNumber(column<NumberColumn>);
    case 'address':
      return new LaterAddress(column<AddressColumn>);
  }
}

class LaterText implements TextColumn {
  readonly type = 'text';
  readonly #column: () => TextColumn;

  constructor(column: () => TextColumn) {
    this.#column = column;
  }

  get dictionary(): readonly string[] {
    return this.#column().dictionary;
  }

  get bytes(): TextBytes | undefined {
    return this.#column().bytes;
  }

  get codes(): Codes {
    return this.#column().codes;
  }
}

class LaterNumber implements NumberColumn {
  readonly type = 'number';
  readonly #column: () => NumberColumn;

  constructor(column: () => NumberColumn) {
    this.#column = column;
  }

  get values(): Float64Array {
    return this.#column().values;
  }

  at(row: number): number {
    return numberAt(this.#column(), row);
  }

  coded(): RowCodes | undefined {
    return this.#column().coded?.();
  }
}

class LaterAddress implements AddressColumn {
  readonly type = 'address';
  readonly #column: () => AddressColumn;

  constructor(column: () => AddressColumn) {
    this.#column = column;
  }

  get four(): Uint32Array {
    return this.#column().four;
  }

  get six(): Uint32Array {
    return this.#column().six;
  }

  get codes(): Codes {
    return this.#column().codes;
  }
}
