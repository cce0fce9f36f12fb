/** Parts of a page that may fail by themselves: what is broken says so in its own place, and the rest goes on. */
import { Component, type ComponentType, lazy, type ReactNode, Suspense, useLayoutEffect, useState } from 'react';
import { Button } from './controls';
import { holdKeys } from './held-keys';

interface BoundaryProps {
	/** What the place holds, as in "The ladder failed". */
	what: string;
	/** What is done before it is drawn again. */
	onRetry?: () => void;
	children: ReactNode;
}

/** Draws in place of its children what kept them from being drawn, with a way to try again. */
export class Boundary extends Component<BoundaryProps, { error: unknown }> {
	override state = { error: null as unknown };

	static getDerivedStateFromError(error: unknown) {
		return { error };
	}

	override componentDidCatch(error: unknown) {
		console.error(`${this.props.what} failed`, error);
	}

	override render() {
		const { error } = this.state;
		if (error === null) return this.props.children;
		const fetched = isFetchFailure(error);
		return (
			<div role="alert" className="m-2 max-w-md self-start border-l-2 border-cut bg-panel p-3 shadow-sm">
				<p>
					<strong>{fetched ? `${this.props.what} could not be fetched.` : `${this.props.what} failed.`}</strong>{' '}
					{fetched
						? 'Is the server gone, or the network? Your work is kept.'
						: `Your work is kept. ${error instanceof Error ? error.message : String(error)}`}
				</p>
				<Button
					className="mt-2"
					onClick={() => {
						this.props.onRetry?.();
						this.setState({ error: null });
					}}
				>
					Try again
				</Button>
			</div>
		);
	}
}

/** Browsers say it each in their own words. */
const isFetchFailure = (error: unknown): boolean =>
	error instanceof Error &&
	/dynamically imported module|module script failed|error loading|Failed to fetch|preload/i.test(error.message);

type Load<P> = () => Promise<{ default: ComponentType<P> }>;

/** `lazy` keeps what it was given once, a failure too: each attempt after one is another. */
// biome-ignore lint/suspicious/noExplicitAny: parts of every kind
const fetched = new WeakMap<Load<any>, ComponentType<any>>();

function fetchedBy<P>(load: Load<P>): ComponentType<P> {
	const known = fetched.get(load) ?? lazy(load);
	fetched.set(load, known);
	return known;
}

/**
 * A part that is fetched when it is first drawn. Where that fails it says so in its place, and is fetched anew when asked to.
 * @param what it is, as in "The roster could not be fetched"
 * @param load the same function each time
 * @param give what the part is given
 * @param takesKeys whether it is a window to type in: what is typed before it stands is kept for it
 */
export function Part<P extends object>({
	what,
	load,
	give,
	takesKeys = false,
}: {
	what: string;
	load: Load<P>;
	give: P;
	takesKeys?: boolean;
}) {
	const [attempt, setAttempt] = useState(0);
	const Fetched = fetchedBy(load);
	return (
		<Boundary
			what={what}
			onRetry={() => {
				fetched.delete(load);
				setAttempt(attempt + 1);
			}}
		>
			<Suspense fallback={takesKeys ? <HoldsKeys /> : null}>
				<Fetched {...give} />
			</Suspense>
		</Boundary>
	);
}

/** Stands for a window that is on its way. It goes when the window comes, or when it cannot be fetched. */
function HoldsKeys() {
	useLayoutEffect(() => {
		const release = holdKeys();
		return () => {
			// The window takes the focus in an effect of its own, after this one.
			setTimeout(() => release(document.activeElement?.closest('[role=dialog], dialog, [data-takes-keys]') != null), 0);
		};
	}, []);
	return null;
}
