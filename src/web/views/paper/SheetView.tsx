export function SheetView() { return null; }
