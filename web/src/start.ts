import './app/noEval.ts';
import { beginAhead } from './app/ahead.ts';

beginAhead(location.pathname);
void import('./main.tsx');
