import { text, uuid, versionNumber } from '@katharos/core';
import * as z from 'zod';
import { ROLES } from './roles.ts';

/** Says which of those signed in on a device asks; left out, whoever asked last. */
export const PERSON_HEADER = 'katharos-person';

export const RoleSchema = z.enum(ROLES);

/** Somebody of the firm, as whoever is signed in is told of themselves. */
export const SignedSchema = z.object({ id: uuid(), name: z.string(), role: RoleSchema });
export type Signed = z.infer<typeof SignedSchema>;

/** Where a device stands with the firm. */
export const SessionSchema = z.object({
  /** who asked last, or is asked for; null where nobody is signed in */
  person: SignedSchema.nullable(),
  /** everybody signed in on this device */
  here: z.array(SignedSchema),
  /** who may come in by a click, in the demo; null where a password is wanted */
  click: z.array(SignedSchema).nullable(),
  /** whether the firm has an owner who can sign in */
  begun: z.boolean(),
  /** the owner ended this device: what it keeps of the firm goes */
  ended: z.boolean(),
  /** days without contact after which a device forgets the firm */
  days: z.number(),
  /** whether somebody stays signed in here when the browser is closed, and opens it without the server */
  remembered: z.boolean(),
});
export type Session = z.infer<typeof SessionSchema>;

/** A password: long rather than odd. */
const password = () => z.string().min(10, 'Ten signs at least: three or four words do.').max(200);
const name = () => z.string().trim().min(1, 'Give a name.').pipe(text(120));

export const SignInSchema = z.object({
  name: z.string().trim().pipe(text(120)),
  password: z.string().max(200),
  /** whether the device is remembered when the browser is closed */
  remember: z.boolean().default(false),
});
export const ClickSchema = z.object({ person: uuid() });
export const EndSchema = z.object({
  /** of the person, on every device; else on this one */
  everywhere: z.boolean().default(false),
});
export const NewPasswordSchema = z.object({ old: z.string().max(200), password: password() });
/** What waits on a device to be sent, as it last said. */
export const WaitsSchema = z.object({ waits: z.int().min(0).max(1_000_000) });

const token = () => z.string().regex(/^[\w-]{43}$/, 'is no such link');
export const NewLinkSchema = z.object({ person: uuid() });
/** A one-time link as it was made: shown once, kept nowhere. */
export const MadeLinkSchema = z.object({ token: token(), until: z.iso.datetime() });
export type MadeLink = z.infer<typeof MadeLinkSchema>;
export const LookLinkSchema = z.object({ token: token() });
export const LINK_PURPOSES = ['owner', 'join', 'reset'] as const;
export const LinkSchema = z.object({
  /** makes the firm's first owner; brings somebody in; gives a new password */
  purpose: z.enum(LINK_PURPOSES),
  /** whom it is for; empty where they say so themselves */
  name: z.string(),
});
export type Link = z.infer<typeof LinkSchema>;
export const UseLinkSchema = z.object({
  token: token(),
  password: password(),
  /** of the first owner */
  name: name().optional(),
  remember: z.boolean().default(false),
});

export const NewPersonSchema = z.object({ id: uuid().optional(), name: name(), role: RoleSchema });
export const PutPersonSchema = z.object({
  name: name(),
  role: RoleSchema,
  /** no longer with the firm: what they wrote stays theirs */
  left: z.boolean(),
  version: versionNumber(),
});
/** Somebody of the firm as the owner sees them. */
export const FirmPersonSchema = SignedSchema.extend({
  left: z.boolean(),
  /** whether they have a password yet */
  ready: z.boolean(),
  version: versionNumber(),
});
export type FirmPerson = z.infer<typeof FirmPersonSchema>;

/** A device of the firm as the owner sees it. */
export const DeviceSchema = z.object({
  id: uuid(),
  name: z.string(),
  /** names of who is signed in on it */
  people: z.array(z.string()),
  seenAt: z.iso.datetime(),
  /** entries that had not reached the server when it was last heard */
  waits: z.number(),
  ended: z.boolean(),
  /** the one the owner sits at */
  thisOne: z.boolean(),
});
export type Device = z.infer<typeof DeviceSchema>;

/** One line of who changed what. */
export const ChangeSchema = z.object({
  seq: z.string(),
  at: z.iso.datetime(),
  /** name of who did it; empty where the application itself did */
  by: z.string(),
  what: z.string(),
  /** what it was about, in a few words */
  about: z.string(),
  jobId: uuid().nullable(),
  /** name of the job's household; empty where it is of none */
  household: z.string(),
  before: z.unknown(),
  after: z.unknown(),
});
export type Change = z.infer<typeof ChangeSchema>;
export const ChangesQuerySchema = z.object({
  before: z
    .string()
    .regex(/^\d{1,18}$/, 'is no place in the list')
    .optional(),
  person: uuid().optional(),
});
export const ChangePageSchema = z.object({ changes: z.array(ChangeSchema), next: z.string().nullable() });
export type ChangePage = z.infer<typeof ChangePageSchema>;

/** A feed of visits for a calendar: one person's, or everybody's if null. */
export const NewFeedSchema = z.object({ fitter: uuid().nullable() });
/** A feed as it is listed: its address was shown once, when it was made. */
export interface Feed {
  readonly id: string;
  readonly fitter: string | null;
  readonly madeBy: string;
  readonly madeAt: string;
  /** a calendar read it last then; null where none has yet */
  readonly readAt: string | null;
}
/** The address of a feed as it is made; whoever has it reads it. */
export interface MadeFeed {
  readonly id: string;
  readonly path: string;
}
