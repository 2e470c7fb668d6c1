import { type DuckDBAppender, type DuckDBConnection, DuckDBInstance } from '@duckdb/node-api';
import { type Address, formatAddress, isRangeFault, tryRange } from '@jade-fence/core/address';
import { largeCountryNetworks } from '../large/countries.js';
import { largeLog } from '../large/log.js';
import { largeLists } from '../large/workspace.js';
import { addressNumber } from './address-number.js';

const TABLES = `
  CREATE TABLE clients (id INTEGER, address HUGEINT);
  CREATE TABLE log (client INTEGER, host VARCHAR, path VARCHAR, method VARCHAR, agent VARCHAR);
  CREATE TABLE lists (list UTINYINT, first HUGEINT, last HUGEINT);
  CREATE TABLE countries (first HUGEINT, last HUGEINT, code VARCHAR);
`;

/**
 * The large log, its lists and country data in an embedded column store, in memory and with two threads. Clients have a
 * table of their own, so that an address is stored and looked up once, and networks of countries do not overlap: both
 * are what somebody would do who replays with SQL.
 */
export async function largeDatabase(requests: number): Promise<DuckDBConnection> {
  const instance = await DuckDBInstance.create(':memory:', { threads: '2' });
  const connection = await instance.connect();
  await connection.run(TABLES);
  const clients = new Map<string, { readonly id: number; readonly address: Address }>();
  await append(connection, 'log', (rows) => {
    for (const { peer, host, path, method, agent } of largeLog(requests)) {
      const address = peer as Address;
      const key = formatAddress(address);
      const known = clients.get(key) ?? { id: clients.size, address };
      clients.set(key, known);
      rows.appendInteger(known.id);
      for (const text of [host, path, method, agent])
        if (text === undefined) rows.appendNull();
        else rows.appendVarchar(text);
      rows.endRow();
    }
  });
  await append(connection, 'clients', (rows) => {
    for (const { id, address } of clients.values()) {
      rows.appendInteger(id);
      rows.appendHugeInt(addressNumber(address));
      rows.endRow();
    }
  });
  await append(connection, 'lists', (rows) => {
    [...largeLists().values()].forEach((entries, list) => {
      for (const entry of entries) {
        const range = tryRange(entry);
        if (isRangeFault(range)) throw new Error(`«${entry}» is no network`);
        rows.appendUTinyInt(list);
        rows.appendHugeInt(addressNumber(range.first));
        rows.appendHugeInt(addressNumber(range.last));
        rows.endRow();
      }
    });
  });
  await append(connection, 'countries', (rows) => {
    for (const { first, last, code } of flatCountries()) {
      rows.appendHugeInt(first);
      rows.appendHugeInt(last);
      rows.appendVarchar(code);
      rows.endRow();
    }
  });
  return connection;
}

async function append(connection: DuckDBConnection, table: string, write: (rows: DuckDBAppender) => void) {
  const rows = await connection.createAppender(table);
  write(rows);
  rows.flushSync();
  rows.closeSync();
}

interface CountryRange {
  readonly first: bigint;
  readonly last: bigint;
  readonly code: string;
}

/** The networks without the narrower ones inside them, one behind the other. */
function flatCountries(): CountryRange[] {
  const networks = largeCountryNetworks(280_000, 20_000).map(({ range, code }) => ({
    first: addressNumber(range.first),
    last: addressNumber(range.last),
    code,
  }));
  networks.sort((a, b) => (a.first !== b.first ? (a.first < b.first ? -1 : 1) : a.last > b.last ? -1 : 1));
  const flat: CountryRange[] = [];
  const open: CountryRange[] = [];
  let next = 0n;
  const upTo = (end: bigint) => {
    const around = open.at(-1);
    if (around !== undefined && next <= end) flat.push({ first: next, last: end, code: around.code });
    next = end + 1n;
  };
  const close = (before: bigint | undefined) => {
    for (let around = open.at(-1); around !== undefined; around = open.at(-1)) {
      if (before !== undefined && around.last >= before) break;
      upTo(around.last);
      open.pop();
    }
  };
  for (const network of networks) {
    close(network.first);
    upTo(network.first - 1n);
    open.push(network);
  }
  close(undefined);
  return flat;
}
