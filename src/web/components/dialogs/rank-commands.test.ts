import { describe, expect, it } from 'vitest';
import { rankCommands } from './rank-commands.ts';

const commands = [
  'Undo',
  'Redo',
  'Play or stop',
  'Play the source from here',
  'Loop the selected slices',
  'Deal again',
].map((words) => ({ words }));
const found = (typed: string) => rankCommands(commands, typed).map(({ words }) => words);

describe('finding a command', () => {
  it('shows all in their order while nothing is typed', () => {
    expect(found('  ')).toEqual(commands.map(({ words }) => words));
  });
  it('wants every word, in any order', () => {
    expect(found('here play')).toEqual(['Play the source from here']);
    expect(found('play xyz')).toEqual([]);
  });
  it('puts what begins with the letters before what has them inside', () => {
    expect(found('re')[0]).toBe('Redo');
    expect(found('sl')).toEqual(['Loop the selected slices']);
    expect(found('from')).toEqual(['Play the source from here']);
  });
});
