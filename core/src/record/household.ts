import type * as z from 'zod';
import { text } from '../words/stored.ts';

/** What is written down of a household, by field, with the most signs each may have. */
const MOST = { name: 120, place: 200, address: 300, contact: 200, phone: 60, keyHolder: 200, notes: 4000 } as const;

export type HouseholdText = keyof typeof MOST;
export const HOUSEHOLD_TEXTS = Object.keys(MOST) as readonly HouseholdText[];
/** A household in its own words: where it is, whom to ask for, who has the key. */
export type HouseholdTexts = Readonly<Record<HouseholdText, string>>;

/** Its schema. @param of makes the schema of one text that has at most so many signs */
export const householdShape = (of: (most: number) => z.ZodType<string, string>) => ({
  name: of(MOST.name),
  place: of(MOST.place),
  // what was written before these were asked for has none
  address: of(MOST.address).default(''),
  contact: of(MOST.contact),
  phone: of(MOST.phone).default(''),
  keyHolder: of(MOST.keyHolder).default(''),
  notes: of(MOST.notes),
});

/** Texts that an earlier release did not ask for: an edit that has none of them leaves them as they stand. */
export const laterTexts = (of: (most: number) => z.ZodType<string, string>) => ({
  address: of(MOST.address).optional(),
  phone: of(MOST.phone).optional(),
  keyHolder: of(MOST.keyHolder).optional(),
});

/** As it stands in a job's file. */
export const StoredHouseholdShape = { ...householdShape(text), name: text(MOST.name).min(1) };

/** What is written down of a household, and nothing else of it; what an earlier release did not ask for is empty. */
export const householdTexts = (h: Partial<HouseholdTexts>): HouseholdTexts =>
  Object.fromEntries(HOUSEHOLD_TEXTS.map((k) => [k, h[k] ?? ''])) as HouseholdTexts;

/** The same after an edit, which may leave some of it as it stands. */
export const editedTexts = (
  h: Partial<HouseholdTexts>,
  edit: Readonly<Partial<Record<HouseholdText, string | undefined>>>,
): HouseholdTexts => Object.fromEntries(HOUSEHOLD_TEXTS.map((k) => [k, edit[k] ?? h[k] ?? ''])) as HouseholdTexts;

/** A telephone number as a device dials it; null where there is none in it. "+31 6 00 11 22" gives "+316001122". */
export function dialled(phone: string | undefined): string | null {
  const plain = (phone ?? '').replace(/\(0\)/, '').replace(/[^\d+]/g, '');
  return /^\+?\d{3,15}$/.test(plain) ? plain : null;
}
