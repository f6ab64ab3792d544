/** `yappa render` and `yappa export`: what a project that was taken away gives, without the application. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Midi } from '@tonejs/midi';
import { bounce } from '#core/engine/bounce.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { orderLayout } from '#core/order/layout.ts';
import { orderSeconds } from '#core/order/seconds.ts';
import { mergeProject } from '#core/project/commands/merge.ts';
import { addSection, setSectionValue } from '#core/project/commands/sections.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { writeProjectZip } from '#core/takeaway/project-zip.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { countingEnv, loopProject, unwrap, type LoopProject } from '../support/documents.ts';
import { planOf, set } from '../support/playing.ts';
import { firstDifference, sine } from '../support/signals.ts';
import { yappa } from './run.ts';

const folder = mkdtempSync(join(tmpdir(), 'yappa-cli-'));
const file = join(folder, 'Quay.zip');
afterAll(() => rmSync(folder, { recursive: true }));
let project: LoopProject;

beforeAll(async () => {
  const env = {
    ...countingEnv(),
    newId: (() => {
      let n = 0;
      return () => `s-${++n}`;
    })(),
  };
  const made = set(
    loopProject({ sampleRate: 44_100, channels: [sine(300, 1)] }, [0, 11_025, 22_050], 1),
    { follow: 'slices' } as never,
    240,
  );
  const roles = slicesOfCut(made.document, made.cutId).map(({ slice }, place) => {
    const role = (['kick', 'closed hat', 'kick'] as const)[place]!;
    return [slice.id, { ...slice, role }] as const;
  });
  const cut = { ...made.document.cuts[made.cutId]!, slices: Object.fromEntries(roles) };
  let document: ProjectDocument = { ...made.document, cuts: { ...made.document.cuts, [made.cutId]: cut } };
  for (const tempoBpm of [240, 180]) {
    document = unwrap(addSection(document, { withPlaying: true }, env));
    const sectionId = document.sectionOrder.at(-1)!;
    const values: [string, string | number][] = [
      ['tempoFrom', 'own'],
      ['tempoBpm', tempoBpm],
    ];
    for (const [param, to] of values)
      document = unwrap(setSectionValue(document, { sectionId, param, change: { to } }, env));
  }
  project = { ...made, document };
  writeFileSync(file, await zipOf(document, made.assets));
});

async function zipOf(document: ProjectDocument, assets: LoopProject['assets']): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  await writeProjectZip(document, {
    sound: async ({ id }) => assets.get(id) ?? null,
    take: (bytes) => pieces.push(bytes.slice()),
  });
  return Buffer.concat(pieces);
}

it('renders the running order, the very samples of a bounce', async () => {
  const out = join(folder, 'mix.wav');
  const { code, stdout } = await yappa('render', file, '--out', out, '--samples', 'wav32', '--cut');
  expect(code).toBe(0);
  const [told] = JSON.parse(stdout) as { seconds: number; truePeakDb: number }[];
  const layout = orderLayout(project.document);
  expect(told!.seconds).toBeCloseTo(orderSeconds(layout), 4);
  const wanted = await bounce(planOf(project), { lengthTicks: layout.lengthTicks, followsOrder: true });
  const heard = readWav(readFileSync(out)).audio;
  expect(firstDifference(heard.channels[0]!, wanted.channels[0]!)).toBe(-1);
  expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
});

it('exports stems, slices, an instrument, and notes whose times another reader finds where they sound', async () => {
  const out = join(folder, 'out');
  for (const kind of ['stems', 'slices', 'sfz', 'midi']) {
    const { code, stderr } = await yappa('export', file, '--as', kind, '--out', out);
    expect(code, stderr).toBe(0);
  }
  const names = readdirSync(out).sort();
  expect(names).toEqual(
    [
      'Quay - 01 loop.wav',
      'Quay.mid',
      ...slicesOfCut(project.document, project.cutId).map(({ label }, n) => `loop 0${n + 1} ${label}.wav`),
      'loop samples',
      'loop.sfz',
    ].sort(),
  );
  const drums = join(folder, 'drums');
  const asMidi = await yappa('export', file, '--as', 'midi', '--drum-keys', '--out', drums);
  expect(JSON.parse(asMidi.stdout)).toMatchObject([{ files: [join(drums, 'Quay.mid')], stripsWithoutKey: 0 }]);
  const apart = join(folder, 'apart');
  const { stdout } = await yappa('export', file, '--as', 'stems', '--by-drum', '--out', apart);
  const [told] = JSON.parse(stdout) as { files: string[] }[];
  expect(readdirSync(apart).sort()).toEqual(['Quay - 01 loop kicks.wav', 'Quay - 02 loop hats.wav']);
  expect(told!.files.map((name) => basename(name)).sort()).toEqual(readdirSync(apart).sort());
  // As they sound, all in one file: as many stretches of one length as there are slices, a marker each.
  const whole = join(folder, 'whole');
  const made = await yappa('export', file, '--as', 'slices', '--sounding', '--together', '--out', whole);
  expect(made.code, made.stderr).toBe(0);
  const { audio, cues } = readWav(readFileSync(join(whole, 'loop in equal lengths.wav')));
  expect(cues.map(({ frame }) => frame)).toEqual([0, 1, 2].map((place) => (place * audio.channels[0]!.length) / 3));
  const named = join(folder, 'named');
  await yappa('export', file, '--as', 'slices', '--names', '{role} {number}', '--out', named);
  expect(readdirSync(named).sort()).toEqual(['closed hat 02.wav', 'kick 01.wav', 'kick 03.wav']);
  const midi = new Midi(readFileSync(join(out, 'Quay.mid')));
  expect(midi.header.tempos.map(({ bpm, ticks }) => [Math.round(bpm), ticks / midi.header.ppq])).toEqual([
    [240, 0],
    [180, 4],
  ]);
  // Four quarters of 240, then three hits from a second on, in the tempo of 180.
  const beat = 60 / 180;
  const times = midi.tracks.at(-1)!.notes.map(({ time }) => Number(time.toFixed(3)));
  const wanted = [0, 0.25, 0.5, 1, 1 + beat, 1 + 2 * beat].map((time) => Number(time.toFixed(3)));
  expect(times).toEqual(wanted);
});

it('loses nothing where two parts, or two projects of two folders, have one name', async () => {
  const { document, assets, env } = project;
  const twice = unwrap(mergeProject(document, { from: document, isWhole: false }, { ...env, newId: randomUUID }));
  const parts = Object.values(twice.parts).map(({ name }) => name);
  expect(parts).toEqual(['loop', 'loop']);
  const files = ['one', 'two'].map((sub) => join(folder, sub, 'Pier.zip'));
  for (const to of files) {
    mkdirSync(dirname(to));
    writeFileSync(to, await zipOf(twice, assets));
  }
  const out = join(folder, 'twice');
  const { code, stdout } = await yappa('export', ...files, '--as', 'slices', '--out', out);
  expect(code).toBe(0);
  const told = (JSON.parse(stdout) as { files: string[] }[]).flatMap((one) => one.files);
  expect(new Set(told).size).toBe(12);
  expect(readdirSync(out).sort()).toEqual(['Pier', 'Pier 2']);
  for (const name of readdirSync(out)) expect(readdirSync(join(out, name))).toHaveLength(6);
  const instruments = join(folder, 'instruments');
  await yappa('export', files[0]!, '--as', 'sfz', '--out', instruments);
  expect(readdirSync(instruments).sort()).toEqual(['loop 2 samples', 'loop 2.sfz', 'loop samples', 'loop.sfz']);
  expect(readFileSync(join(instruments, 'loop 2.sfz'), 'utf8')).toContain('default_path=loop 2 samples/');
  const together = join(folder, 'together');
  await yappa('export', files[0]!, '--as', 'slices', '--together', '--out', together);
  expect(readdirSync(together)).toHaveLength(2);
});

it('names what it cannot use', async () => {
  const broken = join(folder, 'broken.zip');
  writeFileSync(broken, Buffer.from('no zip at all'));
  const bad = await yappa('render', broken, '--out', join(folder, 'x.wav'));
  expect([bad.code, bad.stderr]).toEqual([1, expect.stringContaining('no zip')]);
  expect((await yappa('render', join(folder, 'none.zip'), '--out', 'x.wav')).stderr).toContain('there is no such file');
  const wrong = await yappa('render', file, '--out', join(folder, 'x.wav'), '--pattern', 'fog');
  expect([wrong.code, wrong.stderr]).toEqual([1, expect.stringContaining('no pattern "fog"')]);
  expect((await yappa('export', file, '--out', folder)).code).toBe(2);
});
