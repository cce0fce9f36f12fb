/** The command: what begins with the process and ends with its exit code. */
import { main } from './main';
import { processIo } from './process-io';

const io = processIo();
process.exitCode = await io.ended(await main(process.argv.slice(2), io));
