/** Version 2 brought the ways of following the song's tempo. What was before goes on sounding as it did. Only what is missing is added. */

interface PartOf1 {
  [key: string]: unknown;
}

interface DocumentOf1 {
  parts: Record<string, PartOf1>;
  click: { enabled: boolean; gainDb: number };
  [key: string]: unknown;
}

const NEW_IN_PART = {
  follow: 'slices',
  tail: 'leave',
  material: 'mixes',
  transposeCents: 0,
  transposeAt: 'now',
  startOffsetTicks: 0,
  feelPercent: 100,
  groove: null,
  groovePercent: 100,
  ringOver: true,
};

export function from1(json: unknown): unknown {
  const document = json as DocumentOf1;
  const parts = Object.entries(document.parts ?? {}).map(([id, part]) => [id, { ...NEW_IN_PART, ...part }]);
  return {
    swingPercent: 50,
    rootNote: null,
    ...document,
    schemaVersion: 2,
    click: { sound: 'tick', countInBars: 0, ...document.click },
    parts: Object.fromEntries(parts),
  };
}
