import { prefixesOf, rangeSize } from '@jade-fence/core/address';
import type { CountryNetwork } from '@jade-fence/core/country';

/*
 * Writes country networks in the published MMDB format, version 2, for another reader to be measured on: a tree of
 * 32-bit records over IPv6, with IPv4 in its first 96 zero bits.
 */
const VALUE = 2 ** 31;
const SEPARATOR = 16;

/** A growing binary tree: two records a node; 0 is empty, above `VALUE` a value, else a node. */
class Tree {
  #records = new Uint32Array(1024);
  #count = 1;

  get nodes(): number {
    return this.#count;
  }

  record(node: number, side: number): number {
    return this.#records[node * 2 + side] as number;
  }

  put(bits: string, value: number): void {
    let node = 0;
    for (const bit of bits.slice(0, -1)) node = this.#down(node, Number(bit));
    this.#records[node * 2 + Number(bits.at(-1))] = VALUE + value;
  }

  #down(node: number, side: number): number {
    const record = this.record(node, side);
    if (record !== 0 && record < VALUE) return record;
    if (this.#count * 2 + 2 > this.#records.length) {
      const larger = new Uint32Array(this.#records.length * 2);
      larger.set(this.#records);
      this.#records = larger;
    }
    const made = this.#count++;
    // A network inside another: the value goes down to both sides.
    this.#records.fill(record, made * 2, made * 2 + 2);
    this.#records[node * 2 + side] = made;
    return made;
  }
}

export function writeMmdb(networks: readonly CountryNetwork[]): Buffer {
  const codes = [...new Set(networks.map(({ code }) => code))];
  const tree = new Tree();
  // The widest first, so that the narrower are written over them.
  const widestFirst = networks
    .map((network) => ({ network, size: rangeSize(network.range) }))
    .sort((a, b) => (a.size > b.size ? -1 : a.size < b.size ? 1 : b.network.line - a.network.line));
  for (const { network } of widestFirst)
    for (const { address, length } of prefixesOf(network.range)) {
      const words = address.family === 4 ? [0, 0, 0, address.value] : address.words;
      const bits = words.map((word) => word.toString(2).padStart(32, '0')).join('');
      tree.put(bits.slice(0, address.family === 4 ? 96 + length : length), codes.indexOf(network.code));
    }
  const records = codes.map((code) => map({ country: map({ iso_code: text(code) }) }));
  const offsets: number[] = [];
  records.reduce((sum, record) => {
    offsets.push(sum);
    return sum + record.length;
  }, 0);
  return Buffer.concat([treeBytes(tree, offsets), Buffer.alloc(SEPARATOR), ...records, metadata(tree.nodes)]);
}

function treeBytes(tree: Tree, offsets: readonly number[]): Buffer {
  const bytes = Buffer.alloc(tree.nodes * 8);
  for (let node = 0; node < tree.nodes; node++)
    for (const side of [0, 1]) {
      const record = tree.record(node, side);
      const shown =
        record === 0
          ? tree.nodes
          : record < VALUE
            ? record
            : tree.nodes + SEPARATOR + (offsets[record - VALUE] as number);
      bytes.writeUInt32BE(shown, node * 8 + side * 4);
    }
  return bytes;
}

function metadata(nodes: number): Buffer {
  const fields = {
    node_count: uint(nodes),
    record_size: uint(32),
    ip_version: uint(6),
    build_epoch: uint(Date.UTC(2026, 9, 31) / 1000),
    database_type: text('Made-up'),
    binary_format_major_version: uint(2),
    binary_format_minor_version: uint(0),
  };
  return Buffer.concat([Buffer.from([0xab, 0xcd, 0xef]), Buffer.from('MaxMind.com'), map(fields)]);
}

const text = (value: string): Buffer => Buffer.concat([Buffer.from([(2 << 5) | value.length]), Buffer.from(value)]);

const uint = (value: number): Buffer => {
  const bytes = Buffer.alloc(5, (6 << 5) | 4);
  bytes.writeUInt32BE(value, 1);
  return bytes;
};

const map = (entries: Record<string, Buffer>): Buffer =>
  Buffer.concat([
    Buffer.from([(7 << 5) | Object.keys(entries).length]),
    ...Object.entries(entries).flatMap(([key, value]) => [text(key), value]),
  ]);
