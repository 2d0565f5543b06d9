import { Textarea, type TextareaProps } from '@mantine/core';
import type { ReactElement } from 'react';

/** Whether a field grows by its style alone: measured from a script it lays the whole page out anew each time it is drawn. */
const BY_STYLE = typeof CSS !== 'undefined' && CSS.supports('field-sizing', 'content');

/** Words of several lines, in a field that grows with them. */
export function GrowingText({ minRows = 1, ...props }: TextareaProps): ReactElement {
  if (!BY_STYLE) return <Textarea autosize minRows={minRows} {...props} />;
  return <Textarea styles={growing(minRows)} {...props} />;
}

const growing = (rows: number): NonNullable<TextareaProps['styles']> => ({
  input: {
    fieldSizing: 'content',
    overflow: 'hidden',
    minHeight: `calc(${String(rows)}lh + 2 * var(--input-padding-y) + 2px)`,
  },
});
