/** One act of a menu. */
export interface MenuItem {
	label: string;
	/** Keys that do the same. */
	keys?: string;
	disabled?: boolean;
	act: () => void;
}
