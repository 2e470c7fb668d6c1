import type { Limit } from '../../limit/index.js';
import type { Rule } from '../../policy/index.js';
import { limitKey } from '../limit-key.js';
import type { Limits } from '../limits.js';
import { type Truth, truthOf, unseen } from '../semantics/truth.js';
import type { Subject } from '../subject.js';

/** Limits by the words of their meaning: keeps all that was ever counted, and adds up what lies in the span each time. */
export class PlainLimits implements Limits {
  readonly #counted: { readonly rule: Rule; readonly key: string; readonly time: number; readonly amount: number }[] =
    [];
  readonly #lastOver = new Map<string, number>();

  over(rule: Rule, limit: Limit, subject: Subject): Truth {
    const found = limitKey(limit, subject);
    if ('unseen' in found) return unseen(...found.unseen);
    const { key, time, amount } = found;
    this.#counted.push({ rule, key, time, amount });
    const within = this.#counted.filter(
      (each) => each.rule === rule && each.key === key && each.time > time - limit.within && each.time <= time,
    );
    const over = within.reduce((sum, each) => sum + each.amount, 0) > limit.moreThan;
    const name = `${rule.name} ${key}`;
    if (over) this.#lastOver.set(name, time);
    return truthOf(over || time < (this.#lastOver.get(name) ?? Number.NEGATIVE_INFINITY) + limit.hold);
  }
}
