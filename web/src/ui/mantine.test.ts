import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { expect, test } from '@jest/globals';

const MANTINE = resolve('node_modules/@mantine');
const read = (file: string): string => readFileSync(file, 'utf8');
const imports = (source: string, from: string): string[] =>
  [...source.matchAll(new RegExp(`import (?:type )?\\{([^}]*)\\} from ['"]${from}['"]`, 'g'))].flatMap((m) =>
    (m[1] ?? '').split(',').map((n) => n.trim().split(' as ')[0] ?? ''),
  );

/** Names of the style sheets behind components, and behind all they are made of themselves. */
function stylesOf(components: readonly string[]): Set<string> {
  const files = new Map(
    [...read(join(MANTINE, 'core/esm/index.mjs')).matchAll(/import \{([^}]*)\} from "(\.[^"]+)"/g)].flatMap((m) =>
      (m[1] ?? '').split(',').map((n) => [n.trim(), join(MANTINE, 'core/esm', m[2] ?? '')] as const),
    ),
  );
  const styles = new Set<string>();
  const seen = new Set<string>();
  const visit = (file: string): void => {
    if (seen.has(file) || !existsSync(file)) return;
    seen.add(file);
    const style = /(\w+)\.module\.mjs$/.exec(file)?.[1];
    if (style !== undefined && existsSync(join(MANTINE, `core/styles/${style}.css`))) styles.add(style);
    for (const m of read(file).matchAll(/(?:from|import) "(\.[^"]+)"/g)) visit(resolve(dirname(file), m[1] ?? ''));
  };
  for (const c of components) visit(files.get(c) ?? '');
  return styles;
}

test('the page has the style of everything it draws with, in the order they overrule one another, and of nothing else', () => {
  const sources = [resolve('web/src'), join(MANTINE, 'notifications/esm')].flatMap((folder) =>
    readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((f) => /\.(tsx?|mjs)$/.test(f) && !f.includes('.test.'))
      .map((f) => read(join(folder, f))),
  );
  const drawn = stylesOf(sources.flatMap((s) => imports(s, '@mantine/core')));
  expect(drawn.size).toBeGreaterThan(30);
  const page = [...read(resolve('web/src/ui/mantine.css')).matchAll(/core\/styles\/([\w-]+)\.css/g)].map(
    (m) => m[1] ?? '',
  );
  const whole = read(join(MANTINE, 'core/styles.css'));
  const place = (style: string): number =>
    whole.indexOf(
      read(join(MANTINE, `core/styles/${style}.css`))
        .trim()
        .slice(0, 200),
    );
  const wanted = ['baseline', 'default-css-variables', 'global', ...drawn].sort((a, b) => place(a) - place(b));
  expect(page).toEqual(wanted);
});
