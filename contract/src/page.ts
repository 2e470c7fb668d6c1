/*
 * Every collection is paged by one convention: `after` is the key of the last item that was seen, in the order of
 * the collection; `limit` says how many items come at most; `next` is the key to go on after, and null at the end.
 */

/** A page of what is numbered. */
export interface PageQuery {
  readonly after?: number;
  /** 1 to 1000; without it 100. */
  readonly limit?: number;
}

/** A page of what goes by name. */
export interface NamedPageQuery {
  readonly after?: string;
  /** 1 to 1000; without it 100. */
  readonly limit?: number;
}
