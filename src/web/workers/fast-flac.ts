/** The FLAC encoder as WebAssembly, some five times as fast as in JavaScript: its file is found by the build. */
import { useFlacLibrary } from '#core/formats/flac-write.ts';
import wasmUrl from 'libflacjs/dist/libflac.wasm.wasm?url';

useFlacLibrary(async () => {
  Object.assign(globalThis, { FLAC_SCRIPT_LOCATION: { 'libflac.wasm.wasm': wasmUrl } });
  const { default: flac } = await import('libflacjs/dist/libflac.wasm.js');
  if (!flac.isReady()) await new Promise<void>((resolve) => flac.on('ready', () => resolve()));
  return flac;
});
