/** What the records are made of: ids, names, numbers in their ranges. */
import { en } from 'zod/locales';
import * as z from 'zod/mini';
import { MAX_FRAMES } from '../limits.ts';

// The small form of the library has no words of its own.
z.config(en());

/** No table has such a member of its own, but every object answers to these names. */
const isNameOfEveryObject = (value: string) => value in Object.prototype;

const ID = /^[\w-]{1,80}$/;
/** Up to 80 letters, digits, `-` and `_`; no name that every object has. */
export const id = z.string().check(
  z.regex(ID),
  z.refine((value) => !isNameOfEveryObject(value), 'a name that every object has is no id'),
);
export const name = z.string().check(z.maxLength(200));
export const between = (min: number, max: number) => z.number().check(z.gte(min), z.lte(max));
export const whole = (min: number, max: number) => z.int().check(z.gte(min), z.lte(max));
export const listOf = <T extends z.ZodMiniType>(item: T, max: number, min = 0) =>
  z.array(item).check(z.minLength(min), z.maxLength(max));

export const frame = whole(0, MAX_FRAMES);
export const unit = between(0, 1);
export const beatsPerBar = z.number().check(z.multipleOf(0.5), z.gte(1), z.lte(16));
export const key = whole(0, 127);

/** Is it an {@link id}? Without the cost of its schema. */
export function isId(value: unknown): value is string {
  return typeof value === 'string' && ID.test(value) && !isNameOfEveryObject(value);
}
