/** Version 3 to 4: zones answer strengths and may go round; keys away from a root are now away in pitch. */

interface Zone3 {
  keys: { low: number; high: number; root: number } | null;
  values: Record<string, unknown>;
}
interface Document3 {
  song: { values: Record<string, unknown> };
  zones: Record<string, Zone3>;
}

export function from3(json: unknown): unknown {
  const document = json as Document3;
  const zones = Object.fromEntries(
    Object.entries(document.zones).map(([id, zone]) => {
      const { keys, values } = zone;
      // In version 3 every key of a range had the same pitch.
      const isRange = keys !== null && (keys.low !== keys.root || keys.high !== keys.root);
      const next = isRange ? { ...values, followsKey: false } : values;
      return [id, { ...zone, velocities: { low: 1, high: 127, fade: 0 }, loop: null, values: next }];
    }),
  );
  return { ...document, schemaVersion: 4, song: { ...document.song, zoneDefaults: {} }, zones };
}
