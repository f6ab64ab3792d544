/** JSON that is needed more than once, to be kept and to be sent, is written once: of a large edit it is megabytes. */
const texts = new WeakMap<object, string>();

/** In characters: what takes the page a while to write, keep and send. */
export const LONG_TEXT = 100_000;

/** @param value an object that nobody changes any more */
export function jsonText(value: object): string {
  let text = texts.get(value);
  if (text === undefined) texts.set(value, (text = JSON.stringify(value)));
  return text;
}
