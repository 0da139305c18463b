<script setup lang="ts">
import { computed } from 'vue'
import { Progress } from 'ant-design-vue'
import type { Work } from '@/api/types'
import { count } from '@/logic/words'

/** What the server does, and how far it is. */
const props = defineProps<{
  work: Work | null
  /** What is said until something was heard. */
  first: string
}>()
const percent = computed(() =>
  props.work?.total ? Math.round((100 * props.work.done) / props.work.total) : 0,
)
</script>

<template>
  <div role="status">
    {{ work ? `${work.doing}: ${count(work.done)} of ${count(work.total)}` : `${first} …` }}
    <Progress :percent="percent" :show-info="false" size="small" />
  </div>
</template>
