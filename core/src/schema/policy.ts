import { IF_BLIND, RECORDS, STANCES, VERDICTS } from '../policy/index.js';
import { CONDITIONS } from './conditions.js';
import { described, mapOf, NAME, oneOf, ref, type Schema, someOf, TEXT, WORD } from './shapes.js';

const notice = described(NAME, 'The notice to show');
const lasts = described(WORD, 'How long that lasts, such as 30m or 8h');
const status = (description: string): Schema => ({ type: 'integer', minimum: 300, maximum: 599, description });

const BLOCK = mapOf({ status: status('From 400 to 599; default 403'), notice });
const REDIRECT: Schema = {
  anyOf: [
    WORD,
    mapOf({ to: described(WORD, 'An absolute address of the web'), status: status('From 300 to 308') }, ['to']),
  ],
};
const UNLOCK: Schema = { anyOf: [NAME, mapOf({ passcode: NAME, for: lasts, notice }, ['passcode'])] };
const FINAL = {
  block: BLOCK,
  redirect: REDIRECT,
  challenge: mapOf({ notice }),
  confirm: mapOf({ for: lasts, notice }),
  unlock: UNLOCK,
};

const only = (verdict: string, schema: Schema): Schema => mapOf({ [verdict]: schema }, [verdict]);

/** The verdict of a default. */
export const verdictSchema = (): Schema => ({
  anyOf: [
    oneOf(VERDICTS.filter((verdict) => verdict !== 'redirect' && verdict !== 'unlock')),
    ...Object.entries(FINAL).map(([verdict, schema]) => only(verdict, schema)),
  ],
});

/** The same, in a rule, which may also only tag. */
const THEN: Schema = { anyOf: [ref('verdict'), only('tag', described(someOf(NAME), 'Words for rules below to read'))] };

/** The JSON Schema of a limit. */
export const limitSchema = (): Schema =>
  mapOf(
    {
      'more-than': described(WORD, 'Requests, or with a unit such as 50MiB the bytes answered'),
      within: described(WORD, 'A span such as 1m'),
      per: described(
        someOf(WORD),
        'Fields by which it is counted, such as client, client/24, method; none: all together',
      ),
      hold: described(WORD, 'For how long a key stays over'),
    },
    ['more-than', 'within', 'per'],
  );

/** The JSON Schema of a rule. */
export const ruleSchema = (): Schema =>
  mapOf(
    {
      rule: described(NAME, 'What the rule is called'),
      note: TEXT,
      when: CONDITIONS,
      unless: CONDITIONS,
      limit: ref('limit'),
      'if-blind': oneOf(IF_BLIND, 'What to do when the request lacks a field that the rule tests'),
      then: THEN,
      stance: oneOf(STANCES, 'Whether it acts, only counts, or is off'),
      record: oneOf(RECORDS, 'What is kept of its decisions'),
    },
    ['rule', 'then'],
  );

/** The JSON Schema of a policy. */
export const policySchema = (): Schema =>
  mapOf(
    {
      policy: described(NAME, 'What the policy is called'),
      note: TEXT,
      covers: mapOf({ hosts: someOf(WORD), clients: someOf(WORD) }),
      client: mapOf(
        {
          from: { anyOf: [oneOf(['peer', 'forwarded']), mapOf({ header: WORD }, ['header'])] },
          trust: described(someOf(WORD), 'The proxies whose forwarding headers are trusted'),
        },
        ['from'],
      ),
      destinations: mapOf({
        resolve: described(
          { type: 'boolean' },
          'Whether the resolutions of a host give the destination that a request does not show',
        ),
      }),
      paths: mapOf({
        slashes: oneOf(['merge', 'keep'], 'Whether slashes behind each other are one'),
        case: oneOf(['keep', 'ignore'], 'Whether letters are compared with their case'),
        parameters: oneOf(['keep', 'drop'], 'Whether the part of a segment behind a semicolon counts'),
      }),
      default: ref('verdict'),
      stance: oneOf(STANCES, 'Whether its rules act'),
      redact: described(someOf(WORD), 'What is hidden of clients, such as client/24, user, header.cookie, query.token'),
      rules: { type: ['array', 'null'], items: ref('rule') },
    },
    ['policy', 'default'],
  );
