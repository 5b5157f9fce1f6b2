/** The digits a usual 6,000-count meter shows for a value in V, Ω or A, with their unit. */
export function displayText(quantity: "volts" | "ohms" | "amps", value: number): string {
  const size = Math.abs(value);
  switch (quantity) {
    case "volts":
      if (size < 0.6) return `${(value * 1000).toFixed(1)} mV`;
      return size < 6 ? `${value.toFixed(3)} V` : `${value.toFixed(2)} V`;
    case "amps":
      return size < 6 ? `${value.toFixed(2)} A` : `${value.toFixed(1)} A`;
    case "ohms":
      if (size < 600) return `${value.toFixed(1)} ohm`;
      return size < 6000 ? `${(value / 1e3).toFixed(3)} kohm` : `${(value / 1e3).toFixed(1)} kohm`;
  }
}
