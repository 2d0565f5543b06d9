import { Button } from '@mantine/core';
import { IconDownload } from './icons.ts';
import type { ReactElement } from 'react';
import { download } from './download.ts';

/** Rows of a table by their columns' names. */
export type CsvRows = readonly Readonly<Record<string, string | number>>[];

/** Hands somebody a table as CSV; a text that a spreadsheet would run as a formula is marked as text. @param name with its ending */
export async function downloadCsv(name: string, rows: CsvRows): Promise<void> {
  const { default: Papa } = await import('papaparse');
  download(name, Papa.unparse([...rows], { escapeFormulae: true }), 'text/csv');
}

/** Takes a list out as CSV. @param rows made once it is pressed */
export function CsvButton({ name, rows, label = 'Take out as CSV', size = 'xs', disabled = false }: { readonly name: string; readonly rows: () => CsvRows; readonly label?: string; readonly size?: 'xs' | 'sm'; readonly disabled?: boolean }): ReactElement {
  return (
    <Button className="no-print" size={size} variant="default" leftSection={<IconDownload size={14} />} disabled={disabled} onClick={() => void downloadCsv(name, rows())}>
      {label}
    </Button>
  );
} // oxfmt-ignore
