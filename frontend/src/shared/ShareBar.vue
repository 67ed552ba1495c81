<script setup lang="ts">
// A share as a bar, beside its figure.
defineProps<{ share: number; quiet?: boolean }>()
</script>

<template>
  <span class="sharebar" aria-hidden="true"
    ><i :class="{ quiet }" :style="{ width: `${Math.max(1, share * 100)}%` }"
  /></span>
</template>

<style scoped>
.sharebar {
  display: block;
  height: 10px;
  min-width: 60px;
  background: var(--sunk);
  border: 1px solid var(--rule-strong);
}
i {
  display: block;
  height: 100%;
  background: var(--signal);
}
i.quiet {
  background: var(--ink-3);
}
@media (max-width: 600px) {
  .sharebar {
    display: none;
  }
}
</style>
