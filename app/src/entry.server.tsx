/** Answers a request for a page: the shell of the application, its scripts marked with the word that the policy lets run. */
import { PassThrough } from 'node:stream';
import { createReadableStreamFromReadable } from '@react-router/node';
import { renderToPipeableStream } from 'react-dom/server';
import { type EntryContext, isRouteErrorResponse, ServerRouter } from 'react-router';

/** Set by the server for each request; a client's own is overwritten there. */
const NONCE = 'x-frelk-nonce';

export const streamTimeout = 5_000;

export default function handleRequest(
	request: Request,
	status: number,
	headers: Headers,
	context: EntryContext,
): Promise<Response> | Response {
	if (request.method.toUpperCase() === 'HEAD') return new Response(null, { status, headers });
	const nonce = request.headers.get(NONCE) ?? undefined;
	return new Promise((resolve, reject) => {
		let code = status;
		let sent = false;
		const timer = setTimeout(() => abort(), streamTimeout + 1000);
		const { pipe, abort } = renderToPipeableStream(
			<ServerRouter context={context} url={request.url} {...(nonce ? { nonce } : {})} />,
			{
				...(nonce ? { nonce } : {}),
				onShellReady() {
					sent = true;
					const body = new PassThrough({
						final(done) {
							clearTimeout(timer);
							done();
						},
					});
					headers.set('Content-Type', 'text/html');
					pipe(body);
					resolve(new Response(createReadableStreamFromReadable(body), { headers, status: code }));
				},
				onShellError(error) {
					clearTimeout(timer);
					reject(error);
				},
				onError(error) {
					code = 500;
					if (sent)
						console.error(`a page could not be drawn: ${error instanceof Error ? error.message : String(error)}`);
				},
			},
		);
	});
}

/** One line in the log, and none for what a client did wrong: an address that is not there, a method nobody takes. */
export function handleError(error: unknown, { request }: { request: Request }): void {
	if (request.signal.aborted || (isRouteErrorResponse(error) && error.status < 500)) return;
	console.error(
		`${request.method} ${new URL(request.url).pathname}: ${error instanceof Error ? error.message : String(error)}`,
	);
}
