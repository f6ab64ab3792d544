/** What the lists of the shelf say of things. */

const when = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

export function whenWords(time: number): string {
  return when.format(time);
}

export function countWords(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}
