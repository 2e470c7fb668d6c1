/** What a mixin may add to. */
// biome-ignore lint/suspicious/noExplicitAny: TypeScript asks this of what a mixin extends
export type Extendable = new (...args: any[]) => object;

/** Nothing, for a mixin by itself. */
export class Bare {}
