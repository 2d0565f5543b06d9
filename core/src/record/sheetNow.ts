import type { RunStep } from '../facts/step.ts';
import type { AsBuilt } from './asBuilt.ts';

/**
 * The run sheet as it is worked through: what was made for the version, and what was put in beside the sizing since, before
 * the system is handed over.
 * @param fresh the run sheet of the system as it stands
 */
export function sheetNow(built: Pick<AsBuilt, 'version' | 'record'>, fresh: readonly RunStep[]): readonly RunStep[] {
  const { sheet } = built.version;
  const added = new Set(built.record.carries.map((f) => f.id));
  const more = fresh.filter((s) => s.of.some((id) => added.has(id)) && sheet.every((old) => old.key !== s.key));
  if (more.length === 0) return sheet;
  // what stood there is wetted and looked at with what is new
  const now = (s: RunStep): RunStep => {
    const anew = fresh.find((f) => f.key === s.key);
    return anew ? { ...s, title: anew.title, wets: [...new Set([...s.wets, ...anew.wets])] } : s;
  };
  const end = sheet.findIndex((s) => s.key === 'leave');
  const last = sheet[end];
  if (!last) return [...sheet.map(now), ...more];
  const leave = last.needs ? { ...last, needs: [...last.needs, ...more.map((s) => s.key)] } : last;
  return [...sheet.slice(0, end).map(now), ...more, leave, ...sheet.slice(end + 1).map(now)];
}
