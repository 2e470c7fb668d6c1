import { isRangeFault, prefixesOf, tryRange } from '@jade-fence/core/address';
import { BoundedMap } from '@jade-fence/core/memo';
import {
  clientPseudonym,
  NO_REDACTION,
  type Pseudonym,
  type Redaction,
  redactedByAny,
  tryRedaction,
} from '@jade-fence/core/redact';
import type { RequestFilter } from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { refusal } from '../fault/refusal.js';
import type { Replay } from '../model/replay.js';
import type { Someone } from '../people/someone.js';
import { clientNamed } from './client-named.js';
import { pseudonymsOf } from './pseudonyms.js';
import { ReplayRedactor } from './replay-redactor.js';

const MOST_NAMED = 10_000;

/** Makes what redacts the answers about replays. */
export class Redactions {
  readonly #knex: Knex;
  #pseudonyms: Promise<Pseudonym> | undefined;
  /** The addresses of pseudonyms that were looked up, replay by replay. */
  readonly #named = new BoundedMap<string, string>(MOST_NAMED);

  constructor(knex: Knex) {
    this.#knex = knex;
  }

  /** For answers about the replay; `asked` has the caller's own words of redaction, beside the policies'. */
  async of({ redactions }: Replay, asked: readonly string[] = []): Promise<ReplayRedactor> {
    const words = asked.map((word) => tryRedaction(word) ?? NO_REDACTION);
    return new ReplayRedactor(new Map(Object.entries(redactions)), redactedByAny(words), await this.#key());
  }

  /**
   * The filter with the address in the place of a client's pseudonym. Where policies redact clients, an address that is
   * asked about would find who is behind a pseudonym: it takes a right of its own, and each time is noted.
   */
  async meant(replay: Replay, filter: RequestFilter, who: Someone): Promise<RequestFilter> {
    const name = filter.client === undefined ? undefined : clientPseudonym(filter.client);
    if (name === undefined) {
      if (filter.client !== undefined) await this.#requireOpen(replay, filter.client, who);
      return filter;
    }
    const key = `${replay.id} ${name}`;
    const client = this.#named.get(key) ?? (await clientNamed(this.#knex, replay, name, await this.#key()));
    this.#named.set(key, client);
    return { ...filter, client };
  }

  async #requireOpen({ id, redactions }: Replay, client: string, who: Someone): Promise<void> {
    const { client: redacted } = redactedByAny(Object.values(redactions));
    if (redacted === undefined || tellsNoMore(client, redacted)) return;
    if (!who.seesAddresses)
      throw redacted === 'whole' ? refusal('clients-redacted') : refusal('clients-redacted/prefix', { bits: redacted });
    await note(this.#knex, [
      { actor: who.name, action: 'address-asked', kind: 'replay', name: String(id), detail: { client } },
    ]);
  }

  async #key(): Promise<Pseudonym> {
    this.#pseudonyms ??= pseudonymsOf(this.#knex);
    this.#pseudonyms.catch(() => {
      this.#pseudonyms = undefined;
    });
    return this.#pseudonyms;
  }
}

/** Whether the answers show the network anyway: what is redacted to a prefix shows networks of that length. */
function tellsNoMore(client: string, redacted: NonNullable<Redaction['client']>): boolean {
  if (redacted === 'whole') return false;
  const range = tryRange(client);
  if (isRangeFault(range)) return false;
  const most = range.first.family === 4 ? redacted : SITE_BITS;
  return prefixesOf(range).every(({ length }) => length <= most);
}

/** The network of IPv6 addresses that answers show has this many bits. */
const SITE_BITS = 64;
