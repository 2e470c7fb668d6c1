import { IsOptional, IsString, Length } from 'class-validator';

/** Who signs in: by name and password, or with a key alone. */
export class SignInInput {
  @IsOptional()
  @IsString()
  @Length(1, 100)
  name?: string;

  @IsOptional()
  @IsString()
  @Length(1, 200)
  password?: string;

  /** The access key, or a token. */
  @IsOptional()
  @IsString()
  @Length(1, 200)
  key?: string;
}
