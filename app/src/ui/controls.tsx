/** Small controls used all over: buttons, fields with units, popovers. */
import { rounded } from '@frelk/core';
import { clsx } from 'clsx';
import {
	type ButtonHTMLAttributes,
	type ComponentType,
	cloneElement,
	type InputHTMLAttributes,
	type KeyboardEvent,
	type ReactElement,
	type ReactNode,
	useEffect,
	useId,
	useRef,
	useState,
} from 'react';
import { holdKeys } from './held-keys';
import { evaluateSum } from './sum';

export function Button({ className, quiet, ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { quiet?: boolean }) {
	return (
		<button
			type="button"
			className={clsx(
				'inline-flex min-h-6 min-w-6 [&>svg]:shrink-0 items-center gap-1 rounded-[3px] px-2 py-0.5 transition-colors duration-100 hover:bg-[var(--wash)] disabled:opacity-45 disabled:hover:bg-transparent',
				!quiet && 'border bg-panel',
				className,
			)}
			{...rest}
		/>
	);
}

/** Undo and redo as keys: in a field whose text becomes a change they are never the browser's, which knows nothing of the change. */
const isHistoryKey = (event: KeyboardEvent<HTMLInputElement>): boolean =>
	(event.ctrlKey || event.metaKey) && !event.altKey && /^[zy]$/i.test(event.key);

/**
 * What undo and redo do in such a field: what was typed and not yet taken goes first; then they are the project's, and whoever listens
 * for its keys gets them.
 */
function onHistoryKey(event: KeyboardEvent<HTMLInputElement>, isTyped: boolean, untype: () => void): void {
	if (!isTyped && event.key.toLowerCase() === 'z') return;
	event.preventDefault();
	if (isTyped && event.key.toLowerCase() === 'z' && !event.shiftKey) untype();
}

/** A field whose text becomes a change when it is left or Enter is pressed; Escape takes it back. */
export function TextField({
	label,
	value,
	onCommit,
	className,
	placeholder,
}: {
	label: string;
	value: string;
	onCommit: (value: string) => void;
	className?: string;
	placeholder?: string;
}) {
	const [text, setText] = useState(value);
	const cancelled = useRef(false);
	/** What is being typed is nobody else's to change, another tab's neither. */
	const typing = useRef(false);
	useEffect(() => {
		if (!typing.current) setText(value);
	}, [value]);
	return (
		<input
			aria-label={label}
			data-changed={text !== value || undefined}
			data-field
			className={clsx('w-full', className)}
			value={text}
			placeholder={placeholder}
			onChange={(event) => {
				typing.current = true;
				setText(event.target.value);
			}}
			onKeyDown={(event) => {
				if (isHistoryKey(event))
					onHistoryKey(event, text !== value, () => {
						typing.current = false;
						setText(value);
					});
				if (event.key === 'Enter') event.currentTarget.blur();
				if (event.key === 'Escape') {
					// What was typed is the innermost thing there is to leave.
					if (text !== value) event.preventDefault();
					cancelled.current = true;
					setText(value);
					event.currentTarget.blur();
				}
			}}
			onBlur={() => {
				typing.current = false;
				if (cancelled.current) setText(value);
				else if (text !== value) onCommit(text);
				cancelled.current = false;
			}}
		/>
	);
}

/** A number with its unit. Arrow keys step (Shift: tenfold, Alt: a tenth); simple sums are worked out. */
export function NumberField({
	label,
	value,
	unit,
	step = 0.1,
	min,
	onChange,
	className,
	placeholder,
	hideLabel,
	mark,
	first,
}: {
	label: string;
	/** A letter in the field that says which of several it is. */
	mark?: string;
	value: number | undefined;
	unit?: string;
	step?: number;
	min?: number;
	onChange: (value: number) => void;
	className?: string;
	placeholder?: string;
	hideLabel?: boolean;
	/** Whether it is ready to be typed into when the window it is in opens. */
	first?: boolean;
}) {
	const shown = value === undefined ? '' : String(rounded(value));
	const [text, setText] = useState(shown);
	const [wrong, setWrong] = useState<string | null>(null);
	const id = useId();
	const cancelled = useRef(false);
	const typing = useRef(false);
	useEffect(() => {
		if (typing.current) return;
		setText(shown);
		setWrong(null);
	}, [shown]);
	const commit = (raw: string) => {
		typing.current = false;
		if (raw === shown) return setWrong(null);
		const n = evaluateSum(raw);
		if (n === null) return setWrong('not a number');
		if (min !== undefined && n < min) return setWrong(`at least ${min}`);
		setWrong(null);
		if (n !== value) onChange(n);
		else setText(shown);
	};
	const untype = () => {
		typing.current = false;
		setText(shown);
		setWrong(null);
	};
	const input: InputHTMLAttributes<HTMLInputElement> & {
		'data-field': true;
		'data-changed': boolean | undefined;
		'data-first': boolean | undefined;
	} = {
		'data-field': true,
		'data-first': first,
		'data-changed': text !== shown || undefined,
		id,
		value: text,
		placeholder,
		inputMode: 'decimal',
		'aria-label': unit ? `${label}, ${unit}` : label,
		'aria-invalid': wrong !== null,
		onChange: (event) => {
			typing.current = true;
			setText(event.target.value);
		},
		onBlur: (event) => {
			if (!cancelled.current) commit(event.target.value);
			cancelled.current = false;
		},
		onKeyDown: (event) => {
			if (isHistoryKey(event)) onHistoryKey(event, text !== shown, untype);
			if (event.key === 'Enter') commit(event.currentTarget.value);
			if (event.key === 'Escape') {
				if (text !== shown) event.preventDefault();
				untype();
				cancelled.current = true;
				event.currentTarget.blur();
			}
			if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
				event.preventDefault();
				typing.current = false;
				const size = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
				const next = rounded((evaluateSum(text) ?? value ?? 0) + (event.key === 'ArrowUp' ? size : -size));
				if (min === undefined || next >= min) onChange(next);
			}
		},
	};
	return (
		<span className={clsx('inline-flex items-center gap-1', className)}>
			{!hideLabel && (
				<label htmlFor={id} className="text-quiet">
					{label}
				</label>
			)}
			{mark ? (
				<span className="relative w-full min-w-0">
					<span
						aria-hidden="true"
						className="pointer-events-none absolute inset-y-0 left-1 flex items-center text-[10.5px] text-quiet"
					>
						{mark}
					</span>
					<input {...input} className={clsx('figure w-full min-w-0 pl-3.5!', wrong && 'border-cut')} />
				</span>
			) : (
				<input {...input} className={clsx('figure w-full min-w-0', wrong && 'border-cut')} />
			)}
			{unit && <span className="text-quiet">{unit}</span>}
			{wrong && (
				<span role="alert" className="whitespace-nowrap text-cut">
					{wrong}
				</span>
			)}
		</span>
	);
}

export function Select<T extends string>({
	label,
	value,
	options,
	onChange,
	className,
}: {
	label: string;
	value: T;
	options: readonly { value: T; label: string }[];
	onChange: (value: T) => void;
	className?: string;
}) {
	return (
		<select
			aria-label={label}
			value={value}
			className={className}
			onChange={(event) => onChange(event.target.value as T)}
		>
			{options.map((o) => (
				<option key={o.value} value={o.value}>
					{o.label}
				</option>
			))}
		</select>
	);
}

export function Check({
	label,
	checked,
	onChange,
	children,
}: {
	label: string;
	checked: boolean;
	onChange: (checked: boolean) => void;
	children?: ReactNode;
}) {
	return (
		<label className="flex items-center gap-2 py-0.5">
			<input
				type="checkbox"
				checked={checked}
				aria-label={label}
				onChange={(event) => onChange(event.target.checked)}
			/>
			{children ?? label}
		</label>
	);
}

type TriggerProps = Pick<ButtonHTMLAttributes<HTMLButtonElement>, 'aria-haspopup' | 'aria-expanded' | 'onClick'>;

interface PopoverProps {
	/** The button that opens it. All else is made when it is first opened: a sentence has many, and is drawn often. */
	trigger: ReactElement<TriggerProps>;
	label: string;
	children: ReactNode;
	wide?: boolean;
	/** Another number each time it is to open by itself. */
	summon?: number;
}

/** Fetched when one is first opened; from then on it is there at once. */
let FetchedPopover: ComponentType<
	Omit<PopoverProps, 'summon'> & { open: boolean; onOpen: (open: boolean) => void }
> | null = null;

export function Popover({ summon, ...props }: PopoverProps) {
	const [state, setState] = useState<'never' | 'closed' | 'open' | 'failed'>('never');
	const open = () => {
		if (FetchedPopover) return setState('open');
		const release = holdKeys();
		import('./popover').then(
			(module) => {
				FetchedPopover = module.default;
				setState('open');
				// Once it stands and has the focus.
				setTimeout(() => release(true), 0);
			},
			() => {
				release(false);
				setState('failed');
			},
		);
	};
	const summoned = useRef<number | undefined>(undefined);
	useEffect(() => {
		if (summon === undefined || summon === summoned.current) return;
		summoned.current = summon;
		open();
	});
	if ((state === 'open' || state === 'closed') && FetchedPopover)
		return <FetchedPopover {...props} open={state === 'open'} onOpen={(is) => setState(is ? 'open' : 'closed')} />;
	return (
		<>
			{cloneElement(props.trigger, { 'aria-haspopup': 'dialog', 'aria-expanded': false, onClick: open })}
			{state === 'failed' && (
				<span role="alert" className="text-cut">
					could not be fetched; is the server gone? Click again to try again
				</span>
			)}
		</>
	);
}
