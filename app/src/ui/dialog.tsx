/** A window over the page: Radix keeps the focus in it and gives it back. */
import { Dialog as RadixDialog } from 'radix-ui';
import type { ReactNode } from 'react';

export function Dialog({
	title,
	about,
	children,
	onClose,
	wide,
	side,
}: {
	title: string;
	about?: string;
	children: ReactNode;
	onClose: () => void;
	wide?: boolean;
	/** Along the left side, leaving the stage to be seen, instead of in the middle. */
	side?: boolean;
}) {
	return (
		<RadixDialog.Root open onOpenChange={(open) => !open && onClose()} modal={!side}>
			<RadixDialog.Portal>
				{!side && <RadixDialog.Overlay className="fixed inset-0 z-40 bg-ground/70" />}
				<RadixDialog.Content
					aria-describedby={undefined}
					// What is typed into first takes the focus, not the way out.
					onOpenAutoFocus={(event) => {
						const field = (event.currentTarget as HTMLElement).querySelector<HTMLElement>('[data-first]');
						if (!field) return;
						event.preventDefault();
						field.focus();
					}}
					onInteractOutside={side ? (event) => event.preventDefault() : undefined}
					className={`fixed z-50 flex flex-col rounded-[4px] border border-ink/60 bg-panel shadow-lg ${
						side
							? 'top-12 bottom-4 left-2 w-80'
							: `top-[9vh] left-1/2 max-h-[80vh] -translate-x-1/2 ${wide ? 'w-[44rem]' : 'w-[32rem]'}`
					}`}
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
