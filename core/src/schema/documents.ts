import { LIST_SORTS } from '../list/index.js';
import { VERDICTS } from '../policy/index.js';
import { CONDITIONS } from './conditions.js';
import { described, mapOf, mapOfAny, NAME, oneOf, type Schema, someOf, TEXT, WORD } from './shapes.js';

/** The JSON Schema of a list. */
export const listSchema = (): Schema =>
  mapOf(
    {
      list: described(NAME, 'What the list is called'),
      of: oneOf(LIST_SORTS, 'What its entries are'),
      entries: someOf({
        anyOf: [
          WORD,
          mapOf({ entry: WORD, note: TEXT, until: described(WORD, 'Until when it counts (RFC 3339)') }, ['entry']),
        ],
      }),
      include: described(someOf(NAME), 'Lists of the same sort whose entries are in it too'),
      note: TEXT,
    },
    ['list', 'of'],
  );

/** The JSON Schema of a category. */
export const categorySchema = (): Schema =>
  mapOf(
    { category: described(NAME, 'What the category is called'), note: TEXT, domains: someOf(WORD), urls: someOf(WORD) },
    ['category'],
  );

/** The JSON Schema of an application. */
export const applicationSchema = (): Schema =>
  mapOf(
    {
      application: described(NAME, 'What the application is called'),
      note: TEXT,
      when: CONDITIONS,
      category: NAME,
      risk: { type: 'integer', minimum: 1, maximum: 5, description: 'From 1, harmless, to 5' },
      needs: described(someOf(NAME), 'The applications that must be allowed too for it to work'),
    },
    ['application', 'when'],
  );

/** The JSON Schema of a schedule. */
export const scheduleSchema = (): Schema =>
  mapOf(
    {
      schedule: described(NAME, 'What the schedule is called'),
      note: TEXT,
      zone: described(WORD, 'A time zone such as Europe/Lisbon'),
      weekly: mapOfAny(someOf(WORD), 'Days such as mon-fri or sat, and spans such as 09:00-12:00'),
      except: mapOfAny(someOf(WORD), 'Days such as 2026-12-25, and spans or `closed`'),
    },
    ['schedule', 'zone', 'weekly'],
  );

/** The JSON Schema of a notice. */
export const noticeSchema = (): Schema =>
  mapOf(
    {
      notice: described(NAME, 'What the notice is called'),
      note: TEXT,
      status: { type: 'integer', minimum: 200, maximum: 599 },
      title: TEXT,
      text: described(TEXT, 'What the client reads; {host}, {rule} and {policy} are replaced by those of the request'),
      contact: described(TEXT, 'Whom to ask'),
    },
    ['notice'],
  );

/** The JSON Schema of corrections. */
export const correctionsSchema = (): Schema =>
  mapOf(
    {
      corrections: described(NAME, 'What they are called'),
      note: TEXT,
      networks: mapOfAny(WORD, 'Networks of one’s own, and the countries that they are in'),
    },
    ['corrections'],
  );

/** The JSON Schema of a probe. */
export const probeSchema = (): Schema =>
  mapOf(
    {
      probe: described(NAME, 'What the made-up client is called'),
      note: TEXT,
      client: WORD,
      country: WORD,
      user: WORD,
      groups: someOf(WORD),
      agent: WORD,
      headers: mapOfAny(WORD),
    },
    ['probe'],
  );

/** The JSON Schema of a check. */
export const checkSchema = (): Schema => {
  const verdict = oneOf([...VERDICTS, 'uncovered'], 'What must become of the request');
  return mapOf(
    {
      check: described(NAME, 'What the check is called'),
      note: TEXT,
      policy: NAME,
      at: described(WORD, 'The instant at which it is made (RFC 3339)'),
      destinations: mapOfAny({
        anyOf: [WORD, mapOf({ url: WORD, method: WORD }, ['url']), mapOf({ tunnel: WORD }, ['tunnel'])],
      }),
      expect: mapOfAny(mapOfAny({ anyOf: [verdict, mapOf({ verdict, rule: NAME }, ['verdict'])] })),
    },
    ['check', 'destinations', 'expect'],
  );
};
