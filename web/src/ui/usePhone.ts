import { useMediaQuery } from '@mantine/hooks';

/** Whether the page is a phone's; the style sheets draw the line at the same width. */
export function usePhone(): boolean {
  return useMediaQuery('(max-width: 760px)', false, { getInitialValueInEffect: false });
}
