/** Commands, objects, queries and moments by typing. */
import { type KeyboardEvent, useId, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Dialog } from '../../ui/dialog';
import { optionId, VirtualRows } from '../../ui/virtual-rows';
import { focusStage } from './docked';
import { type Findable, findables, matching } from './findable';

const PAGE = 10;

export default function Palette() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const [text, setText] = useState('');
	const [active, setActive] = useState(0);
	const list = useId();
	const navigate = useNavigate();
	const all = useMemo(() => findables(store, project, (to) => void navigate(to)), [store, project, navigate]);
	const found = useMemo(() => matching(all, text), [all, text]);
	const close = () => store.getState().show(null);
	/** Closed first: what the command opens must not be closed with it. */
	const choose = (one: Findable | undefined) => {
		if (!one || one.not !== undefined) return;
		close();
		one.run();
		// What was found is ready for the arrow keys.
		if (one.kind === 'Object' || one.kind === 'Camera') setTimeout(focusStage, 0);
	};
	const onKeyDown = (event: KeyboardEvent) => {
		const last = found.length - 1;
		const place = {
			ArrowDown: active === last ? 0 : active + 1,
			ArrowUp: active === 0 ? last : active - 1,
			PageDown: Math.min(last, active + PAGE),
			PageUp: Math.max(0, active - PAGE),
		}[event.key];
		if (place !== undefined) setActive(Math.max(0, place));
		else if (event.key === 'Enter') choose(found[active]);
		else return;
		event.preventDefault();
	};
	return (
		<Dialog title="Find" about="a command, a view, an object, a query or a moment" onClose={close}>
			<input
				data-first
				role="combobox"
				aria-label="Find a command, object, query or moment"
				aria-expanded="true"
				aria-controls={list}
				aria-activedescendant={found.length > 0 ? optionId(list, active) : undefined}
				aria-autocomplete="list"
				placeholder="Type a part of its name"
				className="mb-2 w-full px-3! py-1.5!"
				value={text}
				onChange={(event) => {
					setText(event.target.value);
					setActive(0);
				}}
				onKeyDown={onKeyDown}
			/>
			{found.length === 0 && (
				<p role="status" className="px-3 py-2 text-quiet">
					Nothing is called that.
				</p>
			)}
			<VirtualRows
				items={found}
				keyOf={(one) => one.id}
				height={28}
				label="What is found"
				className="h-[52vh]"
				choice={{ id: list, active, isDisabled: (one) => one.not !== undefined, onChoose: choose }}
			>
				{(one) => (
					<div
						className={`flex w-full cursor-default items-center gap-3 rounded-[3px] px-3 py-1 ${one.not === undefined ? '' : 'opacity-60'} ${one === found[active] ? 'bg-[var(--wash)]' : 'hover:bg-[var(--wash)]'}`}
					>
						<span className="min-w-0 truncate">{one.label}</span>
						<span className="figure ml-auto shrink-0 text-quiet">{one.not ?? one.beside}</span>
						{one.keys && <kbd className="figure rounded-[2px] border px-1">{one.keys.replace(/ /g, ' + ')}</kbd>}
					</div>
				)}
			</VirtualRows>
		</Dialog>
	);
}
