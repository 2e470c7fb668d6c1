import { IsString, Length } from 'class-validator';

export class SignInInput {
  @IsString()
  @Length(1, 200)
  key!: string;
}
