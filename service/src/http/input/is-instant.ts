import { buildMessage, isISO8601, isRFC3339, ValidateBy } from 'class-validator';

const DAY = /^\d{4}-\d{2}-\d{2}$/;

/** An instant: a time with its zone (RFC 3339), or a day, which means its first instant in UTC. */
export function IsInstant(): PropertyDecorator {
  return ValidateBy({
    name: 'isInstant',
    validator: {
      validate: (value) =>
        isRFC3339(value) || (typeof value === 'string' && DAY.test(value) && isISO8601(value, { strict: true })),
      defaultMessage: buildMessage(
        () => '$property is a time with its zone, such as 2026-11-12T18:00:00Z, or a day in UTC, such as 2026-11-12',
      ),
    },
  });
}
