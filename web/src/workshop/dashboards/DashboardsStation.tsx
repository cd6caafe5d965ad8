export default function DashboardsStation() {
  return null;
}
