import type { Verdict } from '@jade-fence/core/policy';

/** The fields of a request, by their names in our JSON Lines form. What was not seen is left out. */
export type RequestBody = Readonly<
  Record<string, string | number | readonly string[] | Readonly<Record<string, string | readonly string[]>>>
>;

/** One request of a replay, and its outcome. */
export interface JudgedBody {
  /** Its place in the replay, from 1. */
  readonly number: number;
  readonly log: string;
  /** The line of the file that it was read from. */
  readonly line: number;
  readonly request: RequestBody;
  readonly client: string | null;
  readonly country: string | null;
  /** The country of the destination's address; null where the request does not show that. */
  readonly destinationCountry: string | null;
  readonly verdict: Verdict | 'uncovered';
  readonly policy: string | null;
  /** The rule that decided; null where it was the default, or no policy covers the request. */
  readonly rule: string | null;
}
