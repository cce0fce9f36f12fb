/** What is said, and offered, where a project is not saved, or two tabs have changed the same. */
import { type ReactNode, type RefObject, useEffect, useRef } from 'react';
import { useBlocker } from 'react-router';
import { keepingNow } from '../../data/db';
import { exportProject } from '../../data/files';
import type { Keeper } from '../../model/keep-saved';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';

export function Unsaved({ keeper }: { keeper: RefObject<Keeper | null> }) {
	const store = useBenchStore();
	const saving = useBench((s) => s.saving);
	const why = useBench((s) => s.unsavedFor);
	const edited = useBench((s) => s.past.length > 0);
	const save = () => exportProject(store.getState().project);
	const memoryOnly = edited && !keepingNow().kept;
	useEffect(() => {
		if (!memoryOnly) return;
		const ask = (event: BeforeUnloadEvent) => event.preventDefault();
		window.addEventListener('beforeunload', ask);
		return () => window.removeEventListener('beforeunload', ask);
	}, [memoryOnly]);
	// In memory a project outlives its own page, so that going home is no loss.
	const lost = saving === 'failed' || saving === 'gone';
	const blocker = useBlocker(
		({ nextLocation }) => lost && !nextLocation.pathname.startsWith(`/p/${store.getState().key}`),
	);
	return (
		<>
			{saving === 'failed' && (
				<Notice title="Not saved.">
					<p>
						{why ?? 'The browser’s storage refuses it'}. Your edits are in this tab only. It is tried again by itself
						until it is done.
					</p>
					<Button className="font-semibold" onClick={save}>
						Export now
					</Button>
					<Button onClick={() => keeper.current?.retry()}>Try again</Button>
				</Notice>
			)}
			{saving === 'gone' && (
				<Notice title="Deleted elsewhere.">
					<p>This project was deleted in another tab. What you see is in this tab only.</p>
					<Button className="font-semibold" onClick={() => keeper.current?.bringBack()}>
						Bring it back
					</Button>
					<Button onClick={save}>Export</Button>
				</Notice>
			)}
			<Clash />
			{blocker.state === 'blocked' && (
				<Leaving
					why={
						saving === 'gone'
							? 'The project was deleted in another tab; what you see is in this tab only'
							: (why ?? 'They could not be written')
					}
					stay={() => blocker.reset()}
					leave={() => blocker.proceed()}
					save={save}
				/>
			)}
		</>
	);
}

/** The browser's own dialog: it needs nothing fetched, which may not be possible just then. */
function Leaving({ why, stay, leave, save }: { why: string; stay: () => void; leave: () => void; save: () => void }) {
	const dialog = useRef<HTMLDialogElement>(null);
	useEffect(() => dialog.current?.showModal(), []);
	return (
		<dialog
			ref={dialog}
			onCancel={stay}
			aria-labelledby="leaving"
			className="m-auto w-[30rem] max-w-[92vw] border-2 border-cut bg-panel p-4 text-ink backdrop:bg-black/40"
		>
			<h2 id="leaving" className="font-semibold">
				Leave with edits that are not saved?
			</h2>
			<p className="my-3">{why}. They are lost when you leave, unless you export them.</p>
			<div className="flex flex-wrap gap-2">
				<Button className="font-semibold" onClick={stay}>
					Stay
				</Button>
				<Button
					onClick={() => {
						save();
						leave();
					}}
				>
					Export and leave
				</Button>
				<Button onClick={leave}>Leave without them</Button>
			</div>
		</dialog>
	);
}

function Clash() {
	const store = useBenchStore();
	const clash = useBench((s) => s.clash);
	if (!clash) return null;
	const shown = clash.what.slice(0, 4).join(', ');
	const more = clash.what.length - 4;
	return (
		<Notice title="Changed in two places.">
			<p className="break-words">
				{shown}
				{more > 0 && ` and ${more} more`}.{' '}
				{clash.stands === 'mine'
					? `What you did here stands${clash.undo ? '; undo takes what the other did' : ''}.`
					: `What the other did stands${clash.undo ? '; undo takes what you did here' : ''}.`}
			</p>
			{clash.undo && (
				<Button onClick={() => store.getState().undo()}>
					{clash.stands === 'mine' ? 'Take the other' : 'Take mine'}
				</Button>
			)}
			<Button className="font-semibold" onClick={() => store.getState().dismissClash()}>
				All right
			</Button>
		</Notice>
	);
}

export function Notice({ title, children }: { title: string; children: ReactNode }) {
	return (
		<div
			role="alert"
			className="fixed bottom-4 left-1/2 z-40 flex w-[40rem] max-w-[94vw] -translate-x-1/2 items-start gap-3 rounded-[4px] border-2 border-cut bg-panel p-3 shadow-lg"
		>
			<strong className="whitespace-nowrap">{title}</strong>
			<div className="flex flex-1 flex-wrap items-start gap-2 [&>p]:basis-full">{children}</div>
		</div>
	);
}
