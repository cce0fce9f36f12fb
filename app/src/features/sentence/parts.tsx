/** What all parts of the sentence are made of. */
import type { Query } from '@frelk/core';
import { lazy, memo, Suspense, useEffect, useRef } from 'react';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Popover, Select } from '../../ui/controls';

/** A part of the sentence shows this many characters at most. */
const MAX_SHOWN = 90;

const shortened = (text: string): string => (text.length > MAX_SHOWN ? `${text.slice(0, MAX_SHOWN - 1)}…` : text);

const Meaning = lazy(() => import('../../ui/meaning'));
/** Parts that are explained below their fields, by the word of the guide. */
export const MEANT: Record<string, string> = {
	'Aim assist': 'aim assist',
	'Start inside': 'starts inside',
	'Prompts by tag': 'prompts by tag',
	'Layers that stop it': 'stops',
	Roles: 'sensor',
};

export function Token({
	part,
	text,
	wide,
	children,
}: {
	part: string;
	text: string;
	wide?: boolean;
	children: React.ReactNode;
}) {
	const store = useBenchStore();
	const trigger = useRef<HTMLButtonElement>(null);
	const word = MEANT[part];
	const marked = useBench((s) => (s.nextPart?.part === part ? s.nextPart : null));
	useEffect(() => {
		if (!marked) return;
		if (!marked.open) trigger.current?.focus();
		// It has been asked to open: it is not asked again.
		else store.getState().markPart(null);
	}, [marked, store]);
	return (
		<>
			{/* Real spaces, so that the sentence can be copied and read out. */}{' '}
			<Popover
				label={part}
				{...(wide ? { wide } : {})}
				{...(marked?.open ? { summon: marked.nth } : {})}
				trigger={
					<button
						ref={trigger}
						type="button"
						aria-label={`${part}: ${text}`}
						onBlur={() => marked && !marked.open && store.getState().markPart(null)}
						title={text.length > MAX_SHOWN ? text : undefined}
						className={`mx-px inline rounded-[2px] border-b border-ink/50 bg-[var(--wash)] px-1 text-left font-semibold hover:border-ink ${marked && !marked.open ? 'outline-2 outline-offset-2 outline-ink' : ''}`}
					>
						{shortened(text)}
					</button>
				}
			>
				<h2 className="mb-2 font-semibold">{part}</h2>
				{children}
				{word && (
					<Suspense fallback={null}>
						<Meaning word={word} />
					</Suspense>
				)}
			</Popover>
		</>
	);
}

/**
 * Punctuation and what follows it, closed up to the token before. The mark takes no room, so that it fits wherever the token did: no line
 * begins with a comma.
 */
export const Joint = ({ children }: { children: string }) => (
	<>
		<span className="inline-block w-0">{children[0]}</span>
		<span className="ml-[3px]">{children.slice(1)}</span>
	</>
);

export type Change = (label: string, recipe: (query: Query) => void) => void;

interface PartProps {
	query: Query;
	change: Change;
}

/** A part of the sentence that is said again only when one of these fields of the query has changed, not with every move of a cursor. */
export function partFields(
	fields: readonly string[],
	part: (props: PartProps) => React.ReactNode,
): React.MemoExoticComponent<(props: PartProps) => React.ReactNode> {
	const same = (a: Query, b: Query, field: string) => a[field as keyof Query] === b[field as keyof Query];
	return memo(
		part,
		(a, b) => a.change === b.change && ['id', 'kind', ...fields].every((field) => same(a.query, b.query, field)),
	);
}

export const Remove = ({ onClick }: { onClick: () => void }) => (
	<Button quiet className="mt-2 text-quiet" onClick={onClick}>
		Leave this part out
	</Button>
);

export function AskerEditor({ query, change }: { query: Query; change: Change }) {
	const objects = useBench((s) => s.project.scene.objects);
	return (
		<Select
			label="Asker"
			value={query.asker ?? ''}
			options={objects.map((o) => ({ value: o.id, label: o.name ?? o.id }))}
			onChange={(asker) => change('Asker', (q) => void (q.asker = asker))}
			className="w-full"
		/>
	);
}
