// The settings of the screen under test that may cost time, at an input.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { api, ask } from '../../api/client'
import { usedLag } from './useLag'

export function useSettings(input: () => string) {
  const { session } = usedLag()
  const uid = computed(() => session.value?.uid ?? '')
  const { data: settings } = useQuery({
    queryKey: computed(() => ['lag-settings', uid.value, input()]),
    queryFn: () =>
      ask(
        api.GET('/api/v1/lag/{session_uid}/settings', {
          params: { path: { session_uid: uid.value }, query: { input: input() } },
        }),
      ),
    enabled: computed(() => !!uid.value),
  })
  return { uid, settings }
}
