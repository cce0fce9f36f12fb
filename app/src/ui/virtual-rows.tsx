/** A list of any length of which only the rows in sight are drawn. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { type ReactNode, useEffect, useRef } from 'react';
import { rove } from './roving';

interface Choice<T> {
	id: string;
	/** The place of what Enter would choose. */
	active: number;
	/** Whether it stands there but cannot be chosen. */
	isDisabled: (item: T) => boolean;
	onChoose: (item: T) => void;
}

interface Rows<T> {
	items: readonly T[];
	keyOf: (item: T) => string;
	/** Usual height of a row, CSS pixels; what is drawn is measured. */
	height: number;
	label: string;
	/** Of what scrolls: it needs a height. */
	className: string;
	children: (item: T) => ReactNode;
	/** A list one chooses from, by the arrow keys of a field elsewhere or by a click. */
	choice?: Choice<T>;
}

export const optionId = (list: string, place: number): string => `${list}-${place}`;

export function VirtualRows<T>({ items, keyOf, height, label, className, children, choice }: Rows<T>) {
	const scroller = useRef<HTMLDivElement>(null);
	const rows = useVirtualizer({
		count: items.length,
		getScrollElement: () => scroller.current,
		estimateSize: () => height,
		getItemKey: (place) => keyOf(items[place] as T),
		overscan: 8,
	});
	const active = choice?.active;
	useEffect(() => {
		if (active !== undefined && active >= 0) rows.scrollToIndex(active);
	}, [active, rows]);
	return (
		// Without buttons in it, it has to be scrolled by keys itself.
		<div ref={scroller} tabIndex={choice ? 0 : undefined} className={`overflow-auto ${className}`}>
			<ul
				id={choice?.id}
				role={choice ? 'listbox' : undefined}
				aria-label={label}
				onKeyDown={choice ? undefined : (event) => rove(event, 'down')}
				className="relative"
				style={{ height: rows.getTotalSize() }}
			>
				{rows.getVirtualItems().map(({ index, key, start }) => (
					// biome-ignore lint/a11y/useKeyWithClickEvents: the keys are those of the field that says what is active
					<li
						key={key}
						ref={rows.measureElement}
						data-index={index}
						id={choice && optionId(choice.id, index)}
						role={choice ? 'option' : undefined}
						aria-selected={choice ? index === choice.active : undefined}
						aria-disabled={choice?.isDisabled(items[index] as T) || undefined}
						onClick={choice && (() => choice.onChoose(items[index] as T))}
						aria-setsize={items.length}
						aria-posinset={index + 1}
						className="absolute inset-x-0"
						style={{ transform: `translateY(${start}px)` }}
					>
						{children(items[index] as T)}
					</li>
				))}
			</ul>
		</div>
	);
}
