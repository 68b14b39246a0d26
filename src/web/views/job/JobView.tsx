export function JobView() { return null; }
