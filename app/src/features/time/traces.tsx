/** Traces of the real game, beside the runs: one is opened from a file, or comes while the game goes on. */
import { useRef } from 'react';
import { useStore } from 'zustand';
import type { Trace } from '../../model/trace';
import { useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';

export function Traces({ trace, shown, onShow }: { trace: Trace; shown: boolean; onShow: () => void }) {
	const store = useBenchStore();
	const name = useStore(trace.store, (s) => s.name);
	const differ = useStore(trace.store, (s) => s.differ);
	const input = useRef<HTMLInputElement>(null);
	return (
		<section aria-label="Traces of the game" className="border-t py-2">
			<h3 className="px-3 font-semibold">The game</h3>
			{name !== null && (
				<button
					type="button"
					aria-current={shown}
					className={`my-1 block w-full border-l-3 px-2.5 py-1.5 text-left hover:bg-[var(--wash)] ${shown ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'}`}
					onClick={onShow}
				>
					<span className="block font-semibold [overflow-wrap:anywhere]">{name}</span>
					<span className="block text-[12px] text-quiet">{differ} differ</span>
				</button>
			)}
			<div className="flex flex-col items-start gap-1.5 px-3 pt-1">
				<Button onClick={() => input.current?.click()}>Open a trace…</Button>
				<Button
					onClick={() => {
						trace.follow(store.getState().project);
						onShow();
					}}
				>
					Follow the game
				</Button>
			</div>
			<input
				ref={input}
				type="file"
				accept=".jsonl,.ndjson,application/jsonl"
				className="sr-only"
				aria-label="Trace to open"
				tabIndex={-1}
				onChange={(event) => {
					const file = event.target.files?.[0];
					event.target.value = '';
					if (!file) return;
					void trace.openFile(file, store.getState().project);
					onShow();
				}}
			/>
		</section>
	);
}
