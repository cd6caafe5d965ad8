export default function DashboardScreen() {
  return null;
}
