<script setup lang="ts">
/** Counts drawn side by side, larger ones wider; said for who does not see it. */
defineProps<{ parts: { key: string; look: string; count: number }[]; label: string }>()
</script>

<template>
  <span class="strip-of-parts" role="img" :aria-label="label"
    ><i
      v-for="part in parts"
      :key="part.key"
      :class="part.look"
      :style="{ flexGrow: Math.sqrt(part.count) }"
  /></span>
</template>

<style scoped>
.strip-of-parts {
  display: flex;
  flex: none;
  height: 14px;
  gap: 1px;
}
.strip-of-parts i {
  min-width: 5px;
}
</style>
