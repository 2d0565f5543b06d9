declare module '@tabler/icons-react/dist/esm/icons/*.mjs' {
  import type { FunctionComponent, SVGProps } from 'react';

  /** @param size in px, @param stroke width of its lines */
  const icon: FunctionComponent<Omit<SVGProps<SVGSVGElement>, 'stroke'> & { size?: number; stroke?: number }>;
  export default icon;
}
