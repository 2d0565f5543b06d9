/** What happens to a system beside the firm's own work. */
export const HAPPENINGS = [
  'new-owner',
  'adopted',
  'away',
  'frost',
  'boil-notice',
  'notice-lifted',
  'lamp-dark',
  'taken-out',
] as const;
export type Happening = (typeof HAPPENINGS)[number];
