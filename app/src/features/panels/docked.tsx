/** A panel beside the view, with its name and the way out of it. */
import { X } from 'lucide-react';
import { type ReactNode, useEffect, useRef } from 'react';
import { useBenchStore } from '../../model/use-bench';
import { isChanged } from '../../ui/changed';
import { Button } from '../../ui/controls';
import { Term } from '../../ui/term';

/** Gives the keys to the stage, where there is one. */
export const focusStage = (): void =>
	document.querySelector<HTMLElement>('[role=application][aria-label=Scene]')?.focus({ preventScroll: true });

/** Escape puts it away, and the keys are the stage's again. */
export function Docked({
	title,
	is,
	about,
	children,
}: {
	title: string;
	/** The word of the guide its title is a form of. */
	is?: string;
	about?: string;
	children: ReactNode;
}) {
	const store = useBenchStore();
	const host = useRef<HTMLElement>(null);
	useEffect(() => {
		host.current?.querySelector<HTMLElement>('[data-first]')?.focus();
	}, []);
	const leave = () => {
		store.getState().dockAt(null);
		focusStage();
	};
	return (
		<section
			ref={host}
			aria-label={title}
			data-takes-keys
			className="flex min-h-0 min-w-0 flex-col"
			onKeyDown={(event) => {
				if (event.key !== 'Escape' || event.defaultPrevented || isChanged(event.target)) return;
				event.preventDefault();
				event.stopPropagation();
				leave();
			}}
		>
			<header className="flex items-baseline gap-2 px-3 py-2">
				<h2 className="font-semibold">
					<Term {...(is === undefined ? {} : { is })}>{title}</Term>
				</h2>
				{about && <span className="text-quiet">{about}</span>}
				<Button
					quiet
					className="ml-auto self-center px-1.5!"
					aria-label={`Close: ${title}`}
					title="Close (Escape)"
					onClick={leave}
				>
					<X size={14} />
				</Button>
			</header>
			<div className="flex min-h-0 flex-1 flex-col overflow-auto px-3 pb-3">{children}</div>
		</section>
	);
}
