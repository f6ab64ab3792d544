/** A whole project there and back; broken ones are refused by name. */
import { unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../tests/support/documents.ts';
import { planOf, play } from '../../../tests/support/playing.ts';
import { sine } from '../../../tests/support/signals.ts';
import { emptyDocument } from '../document/defaults.ts';
import { openDocument } from '../document/validate.ts';
import type { ProjectDocument } from '../document/schema.ts';
import { AppError } from '../units/errors.ts';
import { seededRandom } from '../units/random.ts';
import { addBus, addSend } from '../project/commands/channels.ts';
import { mergeProject } from '../project/commands/merge.ts';
import { addSection } from '../project/commands/sections.ts';
import { decodeSoundFile } from '../formats/decode.ts';
import { readProjectZip, writeProjectZip } from './project-zip.ts';

const RATE = 44100;
const env = countingEnv();

/** Samples on steps of so many bits; 0 for floats of any value. */
function audioOf(bits: number) {
  const steps = 2 ** (bits - 1);
  const exact = (value: number) => (bits === 0 ? value : Math.round(value * steps) / steps + 0);
  return {
    sampleRate: RATE,
    channels: [sine(300, 0.3).map((x) => exact(0.7 * x)), sine(210, 0.3).map((x) => exact(0.5 * x))],
  };
}

async function zipped(project = loopProject(audioOf(16), [0, 6000])) {
  const pieces: Uint8Array[] = [];
  const missing = await writeProjectZip(project.document, {
    sound: async ({ id }) => project.assets.get(id) ?? null,
    take: (bytes) => pieces.push(bytes.slice()),
  });
  const bytes = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    bytes.set(piece, at);
    at += piece.length;
  }
  return { bytes, missing, project };
}

const failure = async (bytes: Uint8Array<ArrayBuffer>) => {
  try {
    return readProjectZip(bytes);
  } catch (error) {
    return error;
  }
};

describe('a project as a zip', () => {
  it.each([16, 24, 0])('is the same there and back, sounds of %i bit sample by sample', async (bits) => {
    const { bytes, missing, project } = await zipped(loopProject(audioOf(bits), [0, 6000]));
    expect(missing).toEqual([]);
    const { document, sounds, problems } = readProjectZip(bytes);
    expect(problems).toEqual([]);
    expect(document).toEqual(project.document);
    expect(sounds.map(({ file }) => file)).toEqual([`sounds/001 made-up.${bits === 0 ? 'wav' : 'flac'}`]);
    const { audio } = await decodeSoundFile(sounds[0]!.bytes);
    expect(audio.channels).toEqual(project.assets.get(sounds[0]!.id)!.channels);
    // Any program that knows the format opens it: by its names.
    expect(Object.keys(unzipSync(bytes))).toEqual(['project.json', sounds[0]!.file, 'contents.json']);
  });

  it('says what is missing or was changed, and opens the rest', async () => {
    const { bytes } = await zipped();
    const files = unzipSync(bytes);
    const [sound] = Object.keys(files).filter((name) => name.startsWith('sounds/'));
    const { [sound!]: _, ...without } = files;
    const lacking = readProjectZip(zipSync(without) as Uint8Array<ArrayBuffer>);
    expect(lacking.problems).toEqual(['the sound made-up is missing']);
    expect(Object.keys(lacking.document.parts)).toHaveLength(1);
    const changed = files[sound!]!.slice();
    changed[changed.length - 9]! ^= 1;
    const other = readProjectZip(zipSync({ ...files, [sound!]: changed }) as Uint8Array<ArrayBuffer>);
    expect(other.problems).toEqual(['the sound made-up is not as it was written']);
  });

  it('a project of an earlier version is migrated; one of a newer is refused by name', async () => {
    const { readFileSync } = await import('node:fs');
    const old = readFileSync(new URL('../../../tests/fixtures/documents/version-4.json', import.meta.url));
    const opened = readProjectZip(zipSync({ 'project.json': new Uint8Array(old) }) as Uint8Array<ArrayBuffer>);
    expect(opened.document).toEqual(openDocument(JSON.parse(old.toString())));
    const newer = new TextEncoder().encode(JSON.stringify({ ...opened.document, schemaVersion: 999 }));
    const error = await failure(zipSync({ 'project.json': newer }) as Uint8Array<ArrayBuffer>);
    expect((error as AppError).code).toBe('document.newer');
  });

  it.each(['../up.json', '/etc/x.json', 'sounds/../../x.wav', 'C:\\x.json', 'a\\b.json'])(
    'a name that leads out of it is refused: %s',
    async (name) => {
      const { bytes } = await zipped();
      const files = { ...unzipSync(bytes), [name]: new Uint8Array(3) };
      const error = (await failure(zipSync(files) as Uint8Array<ArrayBuffer>)) as AppError;
      expect(error.code).toBe('document.invalid');
      expect(error.details.reason).toContain('outside');
    },
  );

  it('what would unpack to more than can be held is refused by its size', async () => {
    const { bytes } = await zipped();
    const zip = zipSync({ ...unzipSync(bytes), 'sounds/x.wav': new Uint8Array(64) }) as Uint8Array<ArrayBuffer>;
    const view = new DataView(zip.buffer);
    // Its entry in the directory says four billion bytes (APPNOTE 6.3.10, 4.3.12: uncompressed size).
    for (let at = zip.length - 4; at >= 0; at--) {
      if (view.getUint32(at, true) !== 0x02014b50) continue;
      view.setUint32(at + 24, 0xfffffff0, true);
      break;
    }
    expect(((await failure(zip)) as AppError).code).toBe('format.too-large');
  });

  it('of five hundred broken ones each opens, or is refused by a named error', async () => {
    const { bytes } = await zipped(
      loopProject({ sampleRate: RATE, channels: [audioOf(16).channels[0]!.slice(0, 900)] }, [0]),
    );
    const random = seededRandom(7);
    for (let n = 0; n < 500; n++) {
      const broken = bytes.slice(0, n % 3 === 0 ? Math.floor(random() * bytes.length) : bytes.length);
      for (let hit = 0; hit < 1 + (n % 20); hit++)
        broken[Math.floor(random() * broken.length)] = Math.floor(random() * 256);
      const result = await failure(broken);
      if (result instanceof Error) expect(result, `${n}: ${result.stack}`).toBeInstanceOf(AppError);
    }
  }, 60_000);
});

describe('a project in another', () => {
  function made(): ProjectDocument {
    const { document } = loopProject(audioOf(16), [0, 6000]);
    const withBus = unwrap(addBus(document, { name: 'far' }, env));
    const bus = Object.values(withBus.channels).find(({ kind }) => kind === 'bus')!;
    const part = withBus.parts[withBus.partOrder[0]!]!;
    const sent = unwrap(addSend(withBus, { fromChannelId: part.channelId, toChannelId: bus.id }, env));
    return unwrap(addSection(sent, { withPlaying: true }, env));
  }

  it('comes whole into an empty one, and beside what is there into another', () => {
    const from = made();
    const whole = unwrap(mergeProject(emptyDocument('new', 'x'), { from, isWhole: true }, env));
    expect(() => openDocument(whole)).not.toThrow();
    expect([whole.id, whole.name, whole.song]).toEqual(['new', from.name, from.song]);
    const counts = (document: ProjectDocument) =>
      [document.parts, document.zones, document.channels, document.sends, document.sections].map(
        (table) => Object.keys(table).length,
      );
    expect(counts(whole)).toEqual(counts(from));
    const both = unwrap(mergeProject(whole, { from, isWhole: false }, env));
    expect(() => openDocument(both)).not.toThrow();
    expect(both.partOrder).toHaveLength(2);
    expect(both.sectionOrder).toHaveLength(2);
    // Only the mix itself, and the sound, are the same.
    expect(Object.keys(both.channels)).toHaveLength(2 * Object.keys(from.channels).length - 1);
    expect(Object.keys(both.sources)).toEqual(Object.keys(from.sources));
    const [, second] = both.sectionOrder.map((id) => both.sections[id]!);
    expect(second!.placings[0]!.partId).toBe(both.partOrder[1]);
  });

  it('sounds as it did where chance has its part', () => {
    const from = made();
    for (const zone of Object.values(from.zones)) zone.values = { ...zone.values, randomCents: 700 };
    const assets = new Map([['source-a', audioOf(16)]]);
    const heard = (document: ProjectDocument) =>
      play(planOf({ ...loopProject(audioOf(16), [0]), document, assets }), RATE);
    const wanted = heard(from);
    expect(wanted).not.toEqual(heard(made()));
    // Opened anew, and brought beside other parts, under another song's name.
    for (const isWhole of [true, false]) {
      const empty = { ...emptyDocument('new', 'x'), song: from.song };
      expect(heard(unwrap(mergeProject(empty, { from, isWhole }, env)))).toEqual(wanted);
    }
  });
});
