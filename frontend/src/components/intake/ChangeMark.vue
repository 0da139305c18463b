<script setup lang="ts">
defineProps<{ kind: 'join' | 'change' | 'absent' }>()
</script>

<template><span class="mark" :class="kind" aria-hidden="true" /></template>

<style scoped>
.mark {
  display: inline-block;
  width: 10px;
  height: 9px;
}
.join {
  background: var(--new);
  clip-path: polygon(50% 0, 100% 100%, 0 100%);
}
.absent {
  background: var(--absent);
  clip-path: polygon(0 0, 100% 0, 50% 100%);
}
.change {
  height: 10px;
  border-radius: 50%;
  border: 1px solid var(--changed);
  background: linear-gradient(90deg, var(--changed) 50%, transparent 50%);
}
</style>
