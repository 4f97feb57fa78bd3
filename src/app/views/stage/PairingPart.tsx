export function PairingPart() {
  return null;
}
