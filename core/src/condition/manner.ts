import type { Field } from './field.js';

/** How a field is spoken of: the words before its values, before a list's name, and before what is left out. */
export interface Manner {
  readonly link: string;
  readonly list: string;
  readonly but: string;
  readonly network: string;
}

/** The order in which a phrase tells its fields. */
export const PHRASE_ORDER = [
  ...([
    'method',
    'size',
    'path',
    'query',
    'url',
    'application',
    'category',
    'host',
    'port',
    'scheme',
    'protocol',
  ] as const),
  ...(['destination', 'user', 'group', 'client', 'peer', 'country', 'agent', 'referrer', 'header', 'cookie'] as const),
  ...(['tag', 'time'] as const),
] as const satisfies readonly Field[];

const manner = (link: string, list = '', but = 'any but', network = ''): Manner => ({ link, list, but, network });

/** «requests for /sign-in* to tickets.example from Portugal». */
export const PHRASES: Record<Field, Manner> = {
  method: manner('with', '', 'any method but'),
  size: manner('of'),
  path: manner('for', '', 'any path but'),
  query: manner('with the query parameter'),
  url: manner('for', 'URLs in ', 'any URL but'),
  application: manner('of the application', '', 'any but'),
  category: manner('to the category', '', 'any but'),
  host: manner('to', 'sites in ', 'anywhere but'),
  port: manner('to port'),
  scheme: manner('over', '', 'anything but'),
  protocol: manner('in', '', 'anything but'),
  destination: manner('to', 'addresses in ', 'any address but'),
  user: manner('by', 'users in ', 'anyone but'),
  group: manner('by members of', 'groups in ', 'any group but'),
  client: manner('from', 'addresses in ', 'any address but'),
  peer: manner('through', 'peers in ', 'any peer but'),
  country: manner('from', 'countries in ', 'anywhere but'),
  agent: manner('sent with', 'agents in ', 'any agent but'),
  referrer: manner('referred by', '', 'anything but'),
  header: manner('with the header'),
  cookie: manner('with the cookie'),
  tag: manner('tagged', '', 'anything but'),
  time: manner('during', '', 'any time but'),
};

/** «unless the path is /x and the client is in `curators`». */
export const CLAUSES: Record<Field, Manner> = {
  method: manner('the method is'),
  size: manner('the size is'),
  path: manner('the path is'),
  query: manner('the query parameter'),
  url: manner('the URL is', 'in '),
  application: manner('the application is'),
  category: manner('the category is'),
  host: manner('the host is', 'in '),
  port: manner('the port is'),
  scheme: manner('the scheme is'),
  protocol: manner('the protocol is'),
  destination: manner('the destination is', 'in ', 'any but', 'in '),
  user: manner('the user is', 'in '),
  group: manner('a group is', 'in '),
  client: manner('the client is', 'in ', 'any but', 'in '),
  peer: manner('the peer is', 'in ', 'any but', 'in '),
  country: manner('the country is', 'in '),
  agent: manner('the agent is', 'in '),
  referrer: manner('the referrer is'),
  header: manner('the header'),
  cookie: manner('the cookie'),
  tag: manner('it is tagged', '', 'anything but'),
  time: manner('the time is within'),
};
