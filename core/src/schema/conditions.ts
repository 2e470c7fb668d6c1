import { NAMED_FIELDS, PLAIN_FIELDS, type PlainField } from '../condition/index.js';
import { described, mapOf, type Schema, someOf, WORD } from './shapes.js';

/** The values of each field, for completion in editors. */
const TAKES: Readonly<Record<PlainField, string>> = {
  client: 'Addresses, networks, ranges and lists of the client as it is resolved',
  peer: 'Addresses, networks, ranges and lists of who is connected',
  destination: 'Addresses, networks, ranges and lists of where it goes',
  country: 'ISO 3166-1 codes, lists, `unknown`, `private`: where the client is',
  'destination-country': 'The same: where the destination’s address is',
  host: '`name`, `.name` with all under it, `*.name` only under it, lists',
  path: 'Exact; `*` in a segment, `**` across; `~` and an expression',
  url: 'Host and path; `*` in a segment, `**` across; lists',
  category: 'Categories; `uncategorised`',
  application: 'Applications; `unidentified`',
  tag: 'Words that rules above put',
  method: 'Methods such as GET',
  scheme: 'Schemes such as https',
  protocol: 'Protocols such as HTTP/1.1',
  port: 'Ports and ranges such as 8000-8099',
  user: 'Users, lists, `anonymous`',
  group: 'Groups, lists, `anonymous`',
  agent: 'Exact, `*` glob, `~` and an expression, `present`, `absent`, lists',
  referrer: 'Exact, `*` glob, `~` and an expression, `present`, `absent`',
  size: 'Sizes such as `> 1MiB`',
  time: 'Schedules',
};

const VALUE: Schema = { anyOf: [WORD, mapOf({ not: someOf(WORD) }, ['not'])] };

/** Conditions: one map, in which all must hold, or a list of them, of which any may. */
export const conditionSchema = (): Schema => ({
  type: 'object',
  properties: Object.fromEntries(PLAIN_FIELDS.map((field) => [field, someOf(VALUE, TAKES[field])])),
  patternProperties: {
    [`^(?:${NAMED_FIELDS.join('|')})\\..+$`]: someOf(
      VALUE,
      'Exact, `*` glob, `~` and an expression, `present`, `absent`',
    ),
  },
  additionalProperties: false,
});

export const CONDITIONS: Schema = described(
  someOf({ $ref: '#/$defs/condition' }),
  'In one map every field must match, and in a field any value may; of several maps any may match',
);
