import type { Answer } from '@jade-fence/core/resolution';
import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { notify } from '../database/session.js';
import { Replay } from '../model/replay.js';
import { ResolutionLoad } from '../model/resolution-load.js';
import { once } from '../worker/once.js';
import { pack } from './packed.js';
import { loadsOf, packedLoads } from './store.js';

/** Loads are made one when a state consists of more than this. */
const MOST_LOADS = 200;
/** Loads that no state needs any more are kept for so long, for replays that ran by them. */
const KEPT_DAYS = 30;
/** Loads are numbered in the order in which they are committed, so that a state never gains one behind its back. */
const IN_ORDER = 7_250_026;

export interface LoadOrder {
  readonly kind: ResolutionLoad['kind'];
  readonly name: string;
  /** Whether what was known before does not count any more. Default false. */
  readonly anew?: boolean;
  readonly faults?: ResolutionLoad['faults'];
  readonly faultCount?: number;
  /** Null: the service itself. */
  readonly by: string | null;
}

/** Adds answers to the resolutions, in force at once, and notifies all services. Answers the number of the new state. */
export const addAnswers = (knex: Knex, answers: readonly Answer[], order: LoadOrder): Promise<number> =>
  addLoad(knex, { data: pack(answers), hosts: answers.length }, order);

/** The same for answers that are packed already. */
export async function addLoad(
  knex: Knex,
  { data, hosts }: { readonly data: Uint8Array; readonly hosts: number },
  { kind, name, anew = false, faults = [], faultCount = 0, by }: LoadOrder,
): Promise<number> {
  const number = await knex.transaction(async (trx) => {
    await trx.raw('select pg_advisory_xact_lock(?)', [IN_ORDER]);
    const { id } = await ResolutionLoad.query(trx)
      .insert({ kind, name, actor: by, anew, hosts, faults: [...faults], faultCount, data: Buffer.from(data) })
      .returning('id');
    if (by !== null) {
      const detail = { kind, hosts, anew };
      await note(trx, [{ actor: by, action: 'resolutions-loaded', kind: 'resolutions', name, detail }]);
    }
    await notify(trx, { type: 'resolutions', load: id });
    if (anew) await dropUnneeded(trx, id);
    return id;
  });
  await fold(knex, number);
  return number;
}

/** Makes one load of those of a state, where they are many. The new state says the same. */
async function fold(knex: Knex, number: number): Promise<void> {
  const loads = await loadsOf(knex, number);
  if (loads.length <= MOST_LOADS) return;
  const ids = loads.map(({ id }) => id);
  const { data, hosts } = await once('foldLoads', [await packedLoads(knex, ids), Date.now()]);
  await knex.transaction(async (trx) => {
    await trx.raw('select pg_advisory_xact_lock(?)', [IN_ORDER]);
    const newest = await ResolutionLoad.query(trx).max('id as id').first();
    // What was added meanwhile would not count any more; whoever added it folds then.
    if (newest?.id !== number) return;
    const { id } = await ResolutionLoad.query(trx)
      .insert({
        ...{ kind: 'folded', name: 'folded', actor: null, anew: true, faults: [], faultCount: 0, hosts },
        data: Buffer.from(data),
      })
      .returning('id');
    await dropUnneeded(trx, id);
  });
}

/** Drops loads of which neither the newest state nor that of any replay is made, after a while. */
async function dropUnneeded(knex: Knex, newest: number): Promise<void> {
  const oldest = await Replay.query(knex).min('resolutionsId as resolutionsId').first();
  // A replay needs all loads that its state is made of; later states begin there or later.
  const [needed] = await loadsOf(knex, Math.min(oldest?.resolutionsId ?? newest, newest));
  if (needed === undefined) return;
  await ResolutionLoad.query(knex)
    .where('id', '<', needed.id)
    .whereRaw(`loaded_at < now() - interval '${KEPT_DAYS} days'`)
    .delete();
}
