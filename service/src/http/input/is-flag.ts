import { Transform } from 'class-transformer';
import { IsBoolean } from 'class-validator';

/** True or false, in a query as text. */
export function IsFlag(): PropertyDecorator {
  return (target, property) => {
    Transform(({ value }) => (value === 'true' ? true : value === 'false' ? false : value))(target, property);
    IsBoolean()(target, property as string);
  };
}
