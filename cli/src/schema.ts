/** npm run schema: writes docs/job-file.schema.json anew from the Zod schema; a test says when it is out of date. */
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { jobFileJsonSchema } from '@katharos/core';

writeFileSync(
  fileURLToPath(new URL('../../docs/job-file.schema.json', import.meta.url)),
  `${JSON.stringify(jobFileJsonSchema(), null, 2)}\n`,
);
