import type { Request } from './request.js';

/*
 * The fields of a request of which a log holds one value, by the kind of that value. In this order they are found in lines
 * and become columns of a chunk, each under its own name.
 */

/** Numbers: milliseconds since 1970, a port, bytes of the request, the status that was answered, bytes answered. */
export const NUMBER_FIELDS = ['time', 'port', 'size', 'status', 'bytes'] as const satisfies readonly (keyof Request)[];

export const ADDRESS_FIELDS = ['peer', 'destination'] as const satisfies readonly (keyof Request)[];

export const TEXT_FIELDS = [
  ...(['method', 'scheme', 'host', 'path', 'query', 'protocol', 'user', 'agent', 'referrer'] as const),
] as const satisfies readonly (keyof Request)[];

/** All of them. */
export const VALUE_FIELDS = [...NUMBER_FIELDS, ...ADDRESS_FIELDS, ...TEXT_FIELDS] as const;
export type ValueField = (typeof VALUE_FIELDS)[number];

/** The other fields of a request. This does not compile when a field is missing here. */
export const OTHER_FIELDS = ['groups', 'headers', 'allHeaders', 'met'] as const satisfies readonly (keyof Request)[];
null as unknown as keyof Request satisfies ValueField | (typeof OTHER_FIELDS)[number];
