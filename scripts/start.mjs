// `npm start`: installs and builds what has changed, then serves the application on this machine and prints the address.
import { build, install } from './lib.mjs';

try {
	await install();
	await build();
	// React decides once, when it is first loaded, which of its two builds it is.
	process.env.NODE_ENV = 'production';
	// Imported only now: it needs the packages.
	const { serve } = await import('./serve.mjs');
	const { address, note, token } = await serve(process.env.PORT);
	if (note) console.log(note);
	console.log(`Frelk is at ${address}  (Ctrl+C ends it)`);
	console.log(`A running game traces to ${address}api/trace with the header Authorization: Bearer ${token}`);
} catch (error) {
	console.error(error.message);
	process.exit(1);
}
