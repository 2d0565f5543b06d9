import * as z from 'zod';

/** The NUL and the lone halves of a character. A pattern in the function would be compiled anew at each call. */
const NOT_STORED = /[\0\ud800-\udfff]/u;

/** A stored text: without the NUL and the lone halves of a character that no database holds. */
export const text = (max: number) =>
  z
    .string()
    .max(max)
    .refine((s) => !NOT_STORED.test(s), 'contains a character that cannot be stored');

/** An id: the same in capitals. */
export const uuid = () => z.uuid().toLowerCase();

/** A moment in ISO 8601, UTC, within what a firm can have lived or plan: 1990 to 2199. */
export const moment = () =>
  z.iso.datetime().refine((s) => s >= '1990' && s < '2200', 'is a moment between 1990 and 2199');

/** The version of a document, raised by one at each edit: 0 to what the database counts to. */
export const versionNumber = () => z.number().int().min(0).max(2_147_483_646);

/** What the stored name of a joint’s step begins with; the joint’s own name follows. */
export const JOINT_STEP = 'joint:';

/** What the stored name of what a household agreed to begins with. */
export const AGREED_STEP = 'agreed:';

/** What a system may carry beside its sizing, as it is stored. */
export const EXTRA_NAMES = ['leak-stop', 'backflow', 'first-gauge', 'second-tap', 'spare-branch'] as const;
export type ExtraName = (typeof EXTRA_NAMES)[number];

/** Where the firm's stock lies. */
export const STOCK_PLACES = ['van', 'store'] as const;
export type StockPlace = (typeof STOCK_PLACES)[number];

/** A step of a change is called by this, the change's own id and its name. */
export const CHANGE_STEP = 'change:';

/** A sheet the household was given is kept to so many lines of so many letters. */
export const MOST_SHEET_LINES = 150;
export const MOST_SHEET_LETTERS = 600;
