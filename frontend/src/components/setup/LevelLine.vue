<script setup lang="ts">
import ChooseOne from '@/components/controls/ChooseOne.vue'
import PartLine from './PartLine.vue'
import type { Condition, Roster } from '@/api/types'
import type { Choice } from '@/logic/choices'
import { canBePart } from '@/logic/accounts'

/** What somebody may do in one roster, and in which part of it. */
defineProps<{ roster: Roster; name: string; options: Choice<number>[]; everywhere: number }>()
const level = defineModel<number | null>('level', { required: true })
const part = defineModel<Condition | null>('part', { required: true })
</script>

<template>
  <div class="line">
    <span>{{ roster.title }}</span>
    <ChooseOne v-model="level" :options="options" :label="`In ${roster.title}`" />
  </div>
  <PartLine v-if="canBePart(everywhere, level ?? 0)" v-model="part" :roster="roster" :name="name" />
</template>

<style scoped>
.line {
  width: 100%;
  display: grid;
  grid-template-columns: 116px 1fr;
  gap: 8px;
  align-items: center;
  padding: 2px 0;
  border-bottom: 1px solid var(--drift);
}
.line :deep(.choose) {
  width: 100%;
}
</style>
