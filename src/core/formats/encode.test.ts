import { describe, expect, it } from 'vitest';
import { noise } from '../../../tests/support/signals.ts';
import { AUDIO_ENCODINGS, encodeAudio, endingOf, expectedBytes } from './encode.ts';
import { safeFileName } from './file-names.ts';

describe('what leaves as a file', () => {
  const audio = { sampleRate: 44100, channels: [noise(4411, 1), noise(4411, 2)] };

  it.each(AUDIO_ENCODINGS)('$words: its size is told beforehand, of WAV to the byte', async ({ value }) => {
    const { length } = await encodeAudio(audio, value);
    if (endingOf(value) === 'wav') expect(length).toBe(expectedBytes(4411, 2, value));
    else expect(length).toBeGreaterThan(1000);
  });

  it('a mono file of an odd number of 8 bits more keeps its padding', async () => {
    const odd = { sampleRate: 44100, channels: [noise(1001, 3)] };
    expect((await encodeAudio(odd, 'wav24')).length).toBe(expectedBytes(1001, 1, 'wav24'));
  });

  it('has a name that every system takes', () => {
    expect(safeFileName('  A/B: "quay"? ', 'mix')).toBe('A B quay');
    expect(safeFileName('...', 'mix')).toBe('mix');
  });
});
