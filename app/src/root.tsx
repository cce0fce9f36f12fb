import { type ComponentType, type ReactNode, useEffect, useState } from 'react';
import { isRouteErrorResponse, Links, Meta, Outlet, Scripts, ScrollRestoration, useRouteError } from 'react-router';
import { goWhereOneWent } from './features/opening/leaving';
import './styles.css';
import { useKeptTheme } from './ui/theme';
import { Trouble } from './ui/trouble';

// The build draws this page too, where there is no window.
if (typeof window !== 'undefined') goWhereOneWent(window);

/** What the tab is called until a view is there, and says so itself. */
export function meta() {
	return [{ title: 'Frelk' }];
}

export function Layout({ children }: { children: ReactNode }) {
	useKeptTheme();
	return (
		<html lang="en" suppressHydrationWarning>
			<head>
				<meta charSet="utf-8" />
				<meta name="viewport" content="width=device-width, initial-scale=1" />
				<link rel="icon" href="/mark.svg" type="image/svg+xml" />
				<link rel="manifest" href="/manifest.webmanifest" />
				<script src="/theme.js" />
				<Meta />
				<Links />
			</head>
			<body>
				{children}
				<ScrollRestoration />
				<Scripts />
			</body>
		</html>
	);
}

/** Milliseconds after which what is not needed at first is fetched. */
const SETTLED = 1000;

export default function Root() {
	const [Staying, setStaying] = useState<ComponentType | null>(null);
	useEffect(() => {
		const timer = setTimeout(() => {
			import('./features/staying/staying').then(
				(module) => setStaying(() => module.default),
				() => {
					// Nothing of the work hangs on it.
				},
			);
		}, SETTLED);
		return () => clearTimeout(timer);
	}, []);
	return (
		<>
			<Outlet />
			{Staying && <Staying />}
		</>
	);
}

export function HydrateFallback() {
	return (
		<main className="grid h-screen place-items-center text-quiet">
			<p role="status">Opening…</p>
		</main>
	);
}

/** Whatever a route did not catch: what happened, and the way on. */
export function ErrorBoundary() {
	const error = useRouteError();
	if (isRouteErrorResponse(error)) {
		const data = error.data as { title?: string; lines?: string[] } | string;
		const title =
			typeof data === 'object' && data?.title
				? data.title
				: error.status === 404
					? 'There is nothing at this address'
					: `Error ${error.status}`;
		return <Trouble title={title} lines={typeof data === 'object' ? (data?.lines ?? []) : []} />;
	}
	return (
		<Trouble
			title="Something went wrong in Frelk itself"
			lines={[error instanceof Error ? error.message : String(error), 'Your projects are safe in this browser.']}
		/>
	);
}
