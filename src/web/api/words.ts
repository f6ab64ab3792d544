/** Turns errors into a sentence that names the problem and the way out. */
import { AppError, type AppErrorCode } from '#core/units/errors.ts';
import { ApiError } from './client.ts';

const WAYS_OUT: Record<AppErrorCode, string> = {
  'format.unknown': 'Use WAV, FLAC, MP3, Ogg Vorbis or AIFF.',
  'format.broken': 'Export it again from where it came from.',
  'format.empty': 'Choose a file with sound in it.',
  'format.silent': 'Check that it was recorded with the input turned up.',
  'format.too-large': 'Cut it into shorter files first (15 minutes of stereo at 44.1 kHz go in).',
  'document.invalid': 'Undo the last change and try again.',
  'document.newer': 'Update this program to open it.',
  'save.conflict': 'Choose which version to keep.',
  'audio.missing': 'Import the sound again.',
  'upload.slow': 'Try again.',
  'disk.full': 'Make room on it: what you changed stays in this window, and is saved then.',
  'input.refused': 'Allow the microphone in the browser’s settings of this page, and try again.',
  'input.missing': 'Plug it in, or choose another one.',
  'not-found': 'It may have been deleted in another window.',
  cancelled: '',
};

/** One or two sentences for a failed thing, e.g. `describeFailure('snare.wav', error)`. */
export function describeFailure(what: string, error: unknown): string {
  if (error instanceof AppError) return `${what}: ${error.message}. ${WAYS_OUT[error.code]}`.trim();
  if (error instanceof ApiError) {
    if (error.status === 0) return `${what}: the server does not answer. Start it again; nothing you did is lost.`;
    const way = WAYS_OUT[error.code as AppErrorCode] ?? 'Try again.';
    return `${what}: ${error.message}. ${way}`.trim();
  }
  return `${what}: ${error instanceof Error ? error.message : String(error)}.`;
}
