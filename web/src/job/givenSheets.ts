import { MOST_SHEET_LINES, MOST_SHEET_LETTERS, type FactOf, type NewFact } from '@katharos/core';
import { useCallback } from 'react';
import { useJobFacts } from './useJob.ts';

type Handed = NewFact & { readonly kind: 'handed' };

/** What stands on a sheet of paper, a line for each paragraph, point and row, as it is read. */
export function linesOf(sheet: Element): { readonly title: string; readonly lines: string[] } {
  const plain = (e: Element): string => e.textContent.replace(/\s+/g, ' ').trim();
  const cells = (row: Element): string => [...row.children].map(plain).filter(Boolean).join(', ');
  const lines = [...sheet.querySelectorAll('h2, h3, p, li, tr, figcaption')]
    // a row is one line, whatever stands in its cells
    .filter((e) => e.tagName === 'TR' || e.closest('tr') === null)
    .map((e) => (e.tagName === 'TR' ? cells(e) : plain(e)).slice(0, MOST_SHEET_LETTERS))
    .filter((l) => l !== '');
  return { title: plain(sheet.querySelector('h1') ?? sheet).slice(0, 120), lines: lines.slice(0, MOST_SHEET_LINES) };
}

/** Whether a household has been given the same words already, under the same title. */
const isKept = (given: readonly FactOf<'handed'>[], { title, lines }: Omit<Handed, 'kind'>): boolean => {
  const last = given.findLast((f) => f.title === title);
  return last?.lines.length === lines.length && last.lines.every((l, i) => l === lines[i]);
};

/** Prints the sheets of the page and keeps, once, what the household was given by them. */
export function usePrintForThem(): () => void {
  const { record, add } = useJobFacts();
  return useCallback(() => {
    let sheets: Omit<Handed, 'kind'>[] = [];
    // the sheets are put in before this is heard: whoever draws them listens since longer
    const read = (): void => {
      sheets = [...document.querySelectorAll('.paper-sheet')].map(linesOf);
    };
    window.addEventListener('beforeprint', read, { once: true });
    window.print();
    window.removeEventListener('beforeprint', read);
    const news = sheets.filter((s) => s.lines.length > 0 && !isKept(record.handed, s));
    if (news.length > 0) add(...news.map((s): Handed => ({ kind: 'handed', ...s })));
  }, [record.handed, add]);
}
