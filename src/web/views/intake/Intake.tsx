export function Intake() { return null; }
