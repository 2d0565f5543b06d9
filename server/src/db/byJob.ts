/** Rows by the job they belong to, each in the order they came. */
export function byJob<T extends { readonly jobId: string }>(rows: readonly T[]): Map<string, T[]> {
  const of = new Map<string, T[]>();
  for (const row of rows) {
    const there = of.get(row.jobId);
    if (there) there.push(row);
    else of.set(row.jobId, [row]);
  }
  return of;
}
