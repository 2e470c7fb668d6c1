import 'reflect-metadata';
import { type ClassConstructor, plainToInstance } from 'class-transformer';
import { type ValidationError, validateSync } from 'class-validator';
import { type InputIssue, Refusal, refusal } from '../fault/refusal.js';

/** The value as an instance of the class, when it is valid; throws a refusal with all faults otherwise. */
export function validated<T extends object>(
  type: ClassConstructor<T>,
  value: unknown,
  what: 'body' | 'query' | 'path',
): T {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) throw refusal('not-an-object', { what });
  const instance = plainToInstance(type, value, { exposeDefaultValues: true });
  const errors = validateSync(instance, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  if (errors.length === 0) return instance;
  throw invalidInput(
    what,
    errors.flatMap((error) => flat(error, '')),
  );
}

/** A refusal that names the first field that is wrong, and why; all of them are its issues. */
export function invalidInput(
  what: 'body' | 'query' | 'path' | 'filter',
  issues: readonly InputIssue[],
  remedy?: string,
): Refusal {
  const [first, ...others] = issues;
  const more = others.length === 0 ? '' : `, and ${others.length} more`;
  const named = first ? `: \`${first.path}\`: ${first.what}${more}` : '';
  return refusal('invalid-input', { what, named, remedy }, { issues });
}

function flat(error: ValidationError, above: string): InputIssue[] {
  const path = above === '' ? error.property : `${above}.${error.property}`;
  const own = Object.values(error.constraints ?? {}).map((what) => ({ path, what }));
  return [...own, ...(error.children ?? []).flatMap((child) => flat(child, path))];
}
