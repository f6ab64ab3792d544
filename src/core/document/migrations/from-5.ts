/** Version 5 to 6: helpers stand on the way to the keys of a part, and controllers move settings; none did before. */
interface Document5 {
  parts: Record<string, object>;
}

export function from5(json: unknown): unknown {
  const document = json as Document5;
  const parts = Object.fromEntries(
    Object.entries(document.parts).map(([id, part]) => [id, { ...part, helperOrder: [] }]),
  );
  return { ...document, schemaVersion: 6, parts, helpers: {}, mappings: {} };
}
