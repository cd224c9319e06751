// Says what the format's own validator finds in the files named: one line of JSON each.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const [modules, ...files] = process.argv.slice(2);
const validator = createRequire(modules)('gltf-validator');
for (const file of files) {
  const { issues } = await validator.validateBytes(new Uint8Array(readFileSync(file)));
  const said = issues.messages.filter(({ severity }) => severity < 2);
  console.log(JSON.stringify(said.map(({ code, message, pointer }) => `${code} ${message} ${pointer}`)));
}
