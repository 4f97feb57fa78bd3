/** npm run docs: writes docs/rig-format.md from the schema. */
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { rigFormatMarkdown } from '../src/core/rig/describe';

writeFileSync(fileURLToPath(new URL('../docs/rig-format.md', import.meta.url)), rigFormatMarkdown());
