export function HouseRulesView() { return null; }
