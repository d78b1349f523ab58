/** Links to the jobs of a station, which open in the middle of the bench; the open one closes. */
import { Link, useLocation } from "react-router";

export function JobLinks({ jobs }: { jobs: { name: string; label: string }[] }) {
  const { search } = useLocation();
  const open = new URLSearchParams(search).get("job");
  const to = (name: string) => {
    const params = new URLSearchParams(search);
    if (name === open) params.delete("job");
    else params.set("job", name);
    return `?${params}`;
  };
  return (
    <nav className="jobs" aria-label="In the middle of the bench">
      {jobs.map((job) => (
        <Link key={job.name} to={to(job.name)} className={job.name === open ? "do chosen" : "do"}>
          {job.label}
        </Link>
      ))}
    </nav>
  );
}
