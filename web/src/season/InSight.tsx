import { useEffect, useEffectEvent, useRef, type ReactNode } from "react";

interface Props {
  /** Whether it matters that it comes into sight. */
  watched: boolean;
  onSeen: () => void;
  className: string;
  children: ReactNode;
}

/** A line of a list that tells when it comes into sight: what is dear to work out is asked for then. */
export function InSight({ watched, onSeen, className, children }: Props) {
  const ref = useRef<HTMLLIElement>(null);
  const seen = useEffectEvent(onSeen);
  useEffect(() => {
    const line = ref.current;
    if (!watched || !line) return;
    const observer = new IntersectionObserver(
      (entries) => entries.some((entry) => entry.isIntersecting) && seen(),
      { rootMargin: "200px" },
    );
    observer.observe(line);
    return () => observer.disconnect();
  }, [watched]);
  return (
    <li ref={ref} className={className}>
      {children}
    </li>
  );
}
