// Who may use the server: pages it served itself and programs of this machine. And what every answer carries.
import { randomBytes } from 'node:crypto';
import helmet from 'helmet';

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '[::1]']);

const hostname = (host) => /^(\[[0-9a-f:]+\]|[a-z0-9.-]+)(:\d{1,5})?$/i.exec(host ?? '')?.[1].toLowerCase();

const refuse = (response, status, message) => response.status(status).type('text/plain').send(`${message}\n`);

/**
 * Refuses what another page sends (a name that was bound to this machine, a form or script of another site), and methods nobody needs.
 */
export function onlyOwn(request, response, next) {
	const { host, origin } = request.headers;
	if (!LOOPBACK.has(hostname(host)))
		return refuse(response, 400, 'This server answers to 127.0.0.1 and localhost only.');
	if (!['GET', 'HEAD', 'POST', 'OPTIONS'].includes(request.method))
		return refuse(response.set('Allow', 'GET, HEAD, POST'), 405, 'Only GET, HEAD and POST.');
	if (origin !== undefined && origin !== `http://${host}`)
		return refuse(response, 403, 'This server takes no requests from other pages.');
	// A browser says where a request without Origin comes from; going to an address by a link is allowed, using it from a page is not.
	const site = request.headers['sec-fetch-site'];
	if (site !== undefined && !['same-origin', 'none'].includes(site) && request.headers['sec-fetch-mode'] !== 'navigate')
		return refuse(response, 403, 'This server takes no requests from other pages.');
	next();
}

/** The word that lets the page's own scripts run: another one each time. */
export function giveNonce(_request, response, next) {
	response.locals.nonce = randomBytes(18).toString('base64');
	next();
}

const policy = helmet({
	contentSecurityPolicy: {
		useDefaults: false,
		directives: {
			defaultSrc: ["'self'"],
			// The core compiles one walk of its own; that allows no `eval`.
			scriptSrc: ["'self'", "'wasm-unsafe-eval'", (_request, response) => `'nonce-${response.locals.nonce}'`],
			// Parts of the interface place themselves by style attributes; scripts are what a strict policy is for.
			styleSrc: ["'self'", "'unsafe-inline'"],
			imgSrc: ["'self'", 'data:', 'blob:'],
			connectSrc: ["'self'"],
			workerSrc: ["'self'"],
			objectSrc: ["'none'"],
			baseUri: ["'none'"],
			formAction: ["'self'"],
			frameAncestors: ["'none'"],
		},
	},
	referrerPolicy: { policy: 'no-referrer' },
	xFrameOptions: { action: 'deny' },
	crossOriginOpenerPolicy: { policy: 'same-origin' },
	crossOriginResourcePolicy: { policy: 'same-origin' },
	// Served on loopback without encryption.
	strictTransportSecurity: false,
});

const UNUSED = [
	'camera',
	'microphone',
	'geolocation',
	'usb',
	'serial',
	'hid',
	'payment',
	'midi',
	'display-capture',
	'browsing-topics',
];

export function headers(request, response, next) {
	response.set('Permissions-Policy', UNUSED.map((name) => `${name}=()`).join(', '));
	policy(request, response, next);
}
