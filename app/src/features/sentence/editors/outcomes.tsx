/** What is prompted and done, by tag and by state. */
import type { Outcome } from '@frelk/core';
import { Plus, X } from 'lucide-react';
import { useBench } from '../../../model/use-bench';
import { Button, Select, TextField } from '../../../ui/controls';
import { ConditionsEditor } from './conditions';

/** Which tag leads to which prompt and action: the first that fits decides. */
export function OutcomesEditor({
	outcomes,
	hasAsker,
	onChange,
}: {
	outcomes: readonly Outcome[];
	hasAsker: boolean;
	onChange: (outcomes: Outcome[]) => void;
}) {
	const known = useBench((s) => s.project.scene.tags);
	const tags = known.map((t) => ({ value: t.id, label: t.name ?? t.id }));
	const set = (i: number, next: Outcome | null) =>
		onChange(outcomes.flatMap((o, k) => (k === i ? (next ? [next] : []) : [o])));
	/** An empty field leaves the object's own; a dash takes it away. */
	const text = (value: string | null | undefined) => (value === null ? '–' : (value ?? ''));
	const parsed = (key: 'prompt' | 'action', o: Outcome, value: string): Outcome => {
		const { [key]: _, ...rest } = o;
		return value === ''
			? (rest as Outcome)
			: ({ ...rest, [key]: value === '–' || value === '-' ? null : value } as Outcome);
	};
	return (
		<div>
			{outcomes.map((o, i) => (
				// biome-ignore lint/suspicious/noArrayIndexKey: outcomes have no name but their place
				<div key={i} className="mb-2 space-y-1 border-b pb-2">
					<div className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-1">
						<Select
							label={`Outcome ${i + 1}: tag`}
							className="w-full"
							value={o.tag ?? ''}
							options={[...(o.when ? [{ value: '', label: 'whatever its tag' }] : []), ...tags]}
							onChange={(tag) => {
								const { tag: _, ...rest } = o;
								set(i, tag === '' ? rest : { ...rest, tag });
							}}
						/>
						<Button
							aria-label={`Outcome ${i + 1}: only where a state is so`}
							aria-pressed={o.when !== undefined}
							className={o.when ? 'border-ink! font-semibold' : ''}
							title="Only where a state is so"
							disabled={o.when !== undefined && o.tag === undefined}
							onClick={() => {
								const { when, ...rest } = o;
								set(i, when ? rest : { ...rest, when: [] });
							}}
						>
							when
						</Button>
						<Button quiet aria-label={`Remove outcome ${i + 1}`} onClick={() => set(i, null)}>
							<X size={13} />
						</Button>
					</div>
					{o.when && (
						<div className="border-l-2 border-line pl-2">
							<ConditionsEditor
								when={o.when}
								hasAsker={hasAsker}
								label={`Outcome ${i + 1}, condition`}
								onChange={(when) => set(i, { ...o, when })}
							/>
						</div>
					)}
					<div className="grid grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)] gap-1">
						<TextField
							label={`Outcome ${i + 1}: prompt`}
							placeholder="its own prompt"
							value={text(o.prompt)}
							onCommit={(v) => set(i, parsed('prompt', o, v))}
						/>
						<TextField
							label={`Outcome ${i + 1}: action`}
							placeholder="its own action"
							value={text(o.action)}
							onCommit={(v) => set(i, parsed('action', o, v))}
						/>
					</div>
				</div>
			))}
			<Button onClick={() => onChange([...outcomes, tags.length > 0 ? { tag: tags[0]?.value ?? '' } : { when: [] }])}>
				<Plus size={13} /> Outcome
			</Button>
			<p className="mt-1 text-[12px] text-quiet">
				The first that fits decides, by its tag and its conditions. An empty field leaves the object’s own; a dash takes
				it away. <span className="figure">{'{name}'}</span> in a prompt is the object’s name.
			</p>
		</div>
	);
}
