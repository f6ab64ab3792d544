import { describe, expect, it } from 'vitest';
import { AppError } from '#core/units/errors.ts';
import { ApiError } from './client.ts';
import { describeFailure } from './words.ts';

describe('failures in words', () => {
  it.each([
    [
      new AppError('format.silent', 'the file holds only silence'),
      'snare.wav: the file holds only silence. Check that it was recorded with the input turned up.',
    ],
    [new AppError('cancelled', 'given up'), 'snare.wav: given up.'],
    [
      new ApiError(0, 'server.unreachable', 'x'),
      'snare.wav: the server does not answer. Start it again; nothing you did is lost.',
    ],
    [
      new ApiError(404, 'not-found', 'this project is gone'),
      'snare.wav: this project is gone. It may have been deleted in another window.',
    ],
    [
      new ApiError(500, 'server.failed', 'the server could not do this'),
      'snare.wav: the server could not do this. Try again.',
    ],
    [new Error('odd'), 'snare.wav: odd.'],
  ])('name the thing, the reason and the way out: %s', (error, words) => {
    expect(describeFailure('snare.wav', error)).toBe(words);
  });
});
