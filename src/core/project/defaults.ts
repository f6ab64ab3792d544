/** New documents and the settings that new things start with. */
import {
  HOME,
  SCHEMA_VERSION,
  type Cut,
  type Loop,
  type Part,
  type ProjectDocument,
  type SliceSound,
} from './schema.ts';

/** The key that the first slice stands on: C3, the lowest C of a small keyboard (note 48). */
export const DEFAULT_START_KEY = 48;
export const DEFAULT_TEMPO_BPM = 100;

export const DEFAULT_SLICE_SOUND: SliceSound = {
  gainDb: 0,
  pan: 0,
  tuneCents: 0,
  play: 'whole',
  reverse: false,
  attackMs: 0,
  decayMs: 0,
  sustain: 1,
  releaseMs: 5,
};

export function emptyDocument(id: string, name: string): ProjectDocument {
  return {
    schemaVersion: SCHEMA_VERSION,
    id,
    name,
    tempoBpm: DEFAULT_TEMPO_BPM,
    beatsPerBar: 4,
    swingPercent: 50,
    rootNote: null,
    click: { enabled: false, gainDb: -12, sound: 'tick', countInBars: 0 },
    sources: {},
    parts: {},
    partOrder: [],
    cuts: {},
    patterns: {},
  };
}

export function defaultPart(id: string, name: string, sourceId: string, loop: Loop): Part {
  return {
    id,
    name,
    sourceId,
    loop,
    tempoReadings: [],
    gainDb: 0,
    pan: 0,
    muted: false,
    soloed: false,
    startKey: DEFAULT_START_KEY,
    oneAtATime: true,
    stopFadeMs: 3,
    follow: 'slices',
    tail: 'ring',
    material: 'mixes',
    transposeCents: 0,
    transposeAt: 'now',
    startOffsetTicks: 0,
    feelPercent: 100,
    groove: null,
    groovePercent: 100,
    ringOver: true,
    patternOrder: [],
    activePatternId: HOME,
  };
}

export function defaultCut(): Cut {
  return {
    method: 'hits',
    sensitivity: 0.5,
    minGapMs: 18,
    gridPullPercent: 0,
    stepTicks: 240,
    swingPercent: 50,
    count: 16,
    minLengthMs: 60,
    tapWindowMs: 60,
    slices: {},
  };
}
