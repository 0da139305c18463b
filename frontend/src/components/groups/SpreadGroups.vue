<script setup lang="ts">
import { computed } from 'vue'
import Vessel from '@/components/groups/Vessel.vue'
import type { Groups, Spread } from '@/api/types'

/** The groups as they would be, part by part. */
const props = defineProps<{
  groups: Groups | null
  sizes: Spread['sizes']
  moving: (key: string[], part: string) => { gets: number; loses: number }
  troubles: (one: Spread['sizes'][number]) => string[]
}>()
const scale = computed(
  () =>
    Math.max(
      (props.groups?.most ?? 0) * 1.25,
      ...props.sizes.map((one) => Math.max(one.before, one.after ?? 0)),
      1,
    ) * 1.05,
)
const parts = computed(() => [...new Set(props.sizes.map((one) => one.part))])
</script>

<template>
  <section v-for="part in parts" :key="part">
    <h3>{{ part }}</h3>
    <div class="vessels">
      <Vessel
        v-for="one in sizes.filter((each) => each.part === part)"
        :key="one.key.join('/')"
        :label="one.label"
        :size="one.before"
        :least="groups?.least ?? 0"
        :most="groups?.most ?? 0"
        :scale="scale"
        :gets="moving(one.key, one.part).gets"
        :loses="moving(one.key, one.part).loses"
        :troubles="troubles(one)"
        :said="[]"
      />
    </div>
  </section>
</template>

<style scoped>
.vessels {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
  gap: 12px;
  margin: 6px 0 18px;
  align-items: start;
}
</style>
