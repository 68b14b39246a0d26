export function BatteryRecord() { return null; }
