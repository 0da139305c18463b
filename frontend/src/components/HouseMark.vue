<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '@/composables/useSession'

/** Whose product this is: the institution's mark and name, where it has one. */
const session = useSession()
const name = computed(() => session.state.me?.institution ?? '')
</script>

<template>
  <span v-if="name" class="house one-line">
    <i :style="{ background: session.state.me?.colour }" aria-hidden="true">{{
      name.slice(0, 1)
    }}</i>
    <span>{{ name }}</span>
  </span>
</template>

<style scoped>
.house {
  display: flex;
  align-items: center;
  gap: 6px;
  max-width: 200px;
  color: var(--ink2);
}
.house span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.house i {
  flex: 0 0 20px;
  height: 20px;
  display: grid;
  place-items: center;
  color: #fff;
  font-style: normal;
  font-weight: 600;
}
</style>
