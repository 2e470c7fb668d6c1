import type { PatternFault } from './pattern.js';

const WORDING: Record<PatternFault['fault'], (detail: string) => string> = {
  'open-brace': (detail) => `a brace has no partner: ${detail}; a brace by itself is written twice`,
  'no-field-name': (detail) =>
    `${detail} is no field; fields are those of requests, header.NAME, date, clock, request, and - for what is skipped`,
  'side-by-side': (detail) => `${detail} have no text between them, so that nothing says where the first one ends`,
  twice: (detail) => `${detail} is there twice`,
  'bad-form': (detail) =>
    `${detail} is no form of times; it has YYYY, MM or MMM, DD, hh and mm, and may have ss, fff and ZZ`,
  'matches-all': (detail) => `${detail} has no text beside its field, so that any line would match`,
  'no-fields': (detail) => `${detail} has no field; write the name of each in braces, such as {peer}`,
  'too-long': (detail) => `it is longer than ${detail}`,
};

/** What is wrong with a pattern, as a part of a sentence. */
export const patternFaultText = ({ fault, detail }: PatternFault): string => WORDING[fault](detail);
