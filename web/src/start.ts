import './boot/noEval.ts';
// the page's own styles stand before those of a sheet, which is fetched at once and overrules them
import '@fontsource-variable/ibm-plex-sans/index.css';
import './ui/mantine.css';
import './ui/katharos.css';
import { prefetchPage } from './boot/prefetch.ts';

if (window.isSecureContext) {
  prefetchPage(location.pathname);
  void import('./main.tsx');
} else
  void import('./boot/insecure.ts').then(({ sayInsecure }) => {
    const root = document.getElementById('root');
    if (root) sayInsecure(root);
  });
