// A way tried (its effect is shown, nothing written) or applied to the plan.
import type { Fix } from '../api/client'
import { useJob } from './job'

export function useTryout() {
  const job = useJob()
  const tried = (fix: Fix) => job.ghost !== null && job.ghostLabel === fix.label
  function toggle(fix: Fix) {
    if (tried(fix)) job.stopTry()
    else void job.tryOut(fix.ops, fix.label)
  }
  const apply = (fix: Fix) => void job.change(fix.ops, fix.label)
  return { tried, toggle, apply }
}
