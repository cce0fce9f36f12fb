/** A window over the page: Radix keeps the focus in it and gives it back. */
import { Dialog as RadixDialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { isChanged } from './changed';

export function Dialog({
	title,
	about,
	children,
	onClose,
	wide,
}: {
	title: string;
	about?: string;
	children: ReactNode;
	onClose: () => void;
	wide?: boolean;
}) {
	return (
		<RadixDialog.Root open onOpenChange={(open) => !open && onClose()}>
			<RadixDialog.Portal>
				<RadixDialog.Overlay className="fixed inset-0 z-40 bg-ground/70" />
				<RadixDialog.Content
					aria-describedby={undefined}
					onEscapeKeyDown={(event) => {
						if (isChanged(document.activeElement)) event.preventDefault();
					}}
					// What is typed into first takes the focus, not the way out.
					onOpenAutoFocus={(event) => {
						const field = (event.currentTarget as HTMLElement).querySelector<HTMLElement>('[data-first]');
						if (!field) return;
						event.preventDefault();
						field.focus();
					}}
					className={`fixed top-[9vh] left-1/2 z-50 flex max-h-[80vh] -translate-x-1/2 flex-col rounded-[4px] border border-ink/60 bg-panel shadow-lg ${wide ? 'w-[44rem]' : 'w-[32rem]'}`}
				>
					<header className="flex items-baseline gap-3 border-b px-4 py-2">
						<RadixDialog.Title className="font-semibold">{title}</RadixDialog.Title>
						{about && <span className="text-quiet">{about}</span>}
						<RadixDialog.Close className="ml-auto rounded-[3px] px-2 hover:bg-[var(--wash)]">Close</RadixDialog.Close>
					</header>
					{/* Reached by the Tab key, so that a long text can be scrolled without a pointer. */}
					<div tabIndex={0} className="min-h-0 overflow-auto p-4">
						{children}
					</div>
				</RadixDialog.Content>
			</RadixDialog.Portal>
		</RadixDialog.Root>
	);
}
