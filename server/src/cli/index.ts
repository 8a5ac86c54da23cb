import { run } from './main';

const code = await run(process.argv.slice(2), {
  out: (line) => console.log(line),
  err: (line) => console.error(line),
});
process.exit(code);
