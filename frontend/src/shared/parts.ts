// Parts of a sheet: which one the address names, the first when it names none.
import { computed, type Component, type ComputedRef } from 'vue'
import { useRoute } from 'vue-router'

export interface Part {
  id: string
  name: string
  part: Component
}

export function useParts(parts: readonly [Part, ...Part[]]): ComputedRef<Part> {
  const route = useRoute()
  return computed(() => parts.find((p) => p.id === route.query.part) ?? parts[0])
}
