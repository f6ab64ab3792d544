/** The encoders of MP3 and Ogg Vorbis as files of their own: what is written into a script as text may not be fetched here. */
import { useLossyEncoders } from '#core/formats/lossy-stream.ts';
import mp3Url from 'wasm-media-encoders/wasm/mp3?url';
import oggUrl from 'wasm-media-encoders/wasm/ogg?url';

async function bytesAt(url: string): Promise<ArrayBuffer> {
  return (await fetch(url)).arrayBuffer();
}

useLossyEncoders({
  mp3: async () => {
    const { createEncoder } = await import('wasm-media-encoders');
    return createEncoder('audio/mpeg', await bytesAt(mp3Url));
  },
  ogg: async () => {
    const { createEncoder } = await import('wasm-media-encoders');
    return createEncoder('audio/ogg', await bytesAt(oggUrl));
  },
});
