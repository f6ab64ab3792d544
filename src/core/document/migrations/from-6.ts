/** Version 6 to 7: there is a running order; none before. */
export function from6(json: unknown): unknown {
  return { ...(json as object), schemaVersion: 7, sections: {}, sectionOrder: [] };
}
