// `npm start`: installs and builds what has changed, then serves the application on this machine and prints the address. With folders or
// files behind it (`npm start -- levels/`) their projects are worked on where they lie: what `frelk open` does.
import { join } from 'node:path';
import { build, install, root } from './lib.mjs';

try {
	await install();
	await build();
	process.env.NODE_ENV = 'production';
	const given = process.argv.slice(2);
	if (given.length > 0) {
		process.argv.splice(2, process.argv.length, 'open', ...given);
		await import('../cli/bin/frelk.mjs');
	} else {
		// Imported only now: it needs the packages.
		const { serve } = await import('../cli/server/serve.mjs');
		const { address, note, token } = await serve({
			port: process.env.PORT,
			client: join(root, 'app/build/client'),
			checkWorker: join(root, 'cli/bin/check-worker.mjs'),
		});
		if (note) console.log(note);
		console.log(`Frelk is at ${address}  (Ctrl+C ends it)`);
		console.log(`A running game traces to ${address}api/trace with the header Authorization: Bearer ${token}`);
	}
} catch (error) {
	console.error(error.message);
	process.exit(1);
}
