<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Field, Groups, Shortlist } from '@/api/types'
import type { Asks } from '@/composables/useSpread'
import { byTitle } from '@/logic/choices'
import { count } from '@/logic/words'

/** Who is spread, and what is kept to. */
const props = defineProps<{
  groups: Groups | null
  shortlists: Shortlist[]
  fields: Field[]
  evenly: Field[]
  asking: boolean
  /** The address of the groups. */
  back: string
}>()
const who = defineModel<number>('who', { required: true })
const asks = defineModel<Asks>('asks', { required: true })
const emit = defineEmits<{ ask: [] }>()

const NOBODY = { value: '', label: 'nobody in particular' }
const singly = computed(() =>
  props.fields.filter((one) => !one.code_list && one.type !== 'boolean' && one.type !== 'date'),
)
const lists = computed(() => [
  { value: 0, label: `those without one · ${props.groups?.without ?? 0}` },
  ...props.shortlists.map((one) => ({
    value: one.id,
    label: `${one.title} · ${count(one.count)}`,
  })),
])
</script>

<template>
  <form class="asks" aria-label="How people are spread" @submit.prevent="emit('ask')">
    <h1>Spread people over {{ groups?.title.toLowerCase() }}</h1>
    <p class="soft">Nothing is done: you see who would go where.</p>
    <label class="field">Who <ChooseOne v-model="who" :options="lists" label="Who" /></label>
    <fieldset>
      <legend>Who has one already</legend>
      <label
        ><input v-model="asks.anew" type="radio" :value="false" /> stays where it can be: as few
        moves as possible</label
      >
      <label><input v-model="asks.anew" type="radio" :value="true" /> is spread anew</label>
    </fieldset>
    <fieldset>
      <legend>Keep to</legend>
      <label v-if="groups?.most || groups?.least"
        ><input v-model="asks.sizes" type="checkbox" /> {{ groups.least }} to
        {{ groups.most }} people in each</label
      >
      <label v-if="groups?.has_ages"
        ><input v-model="asks.oneBand" type="checkbox" /> one band of ages in each</label
      >
      <label class="field"
        >apart, who has the same
        <ChooseOne
          v-model="asks.apart"
          :options="[NOBODY, ...byTitle(singly)]"
          label="apart, who has the same"
      /></label>
      <label class="field"
        >together, who has the same
        <ChooseOne
          v-model="asks.together"
          :options="[NOBODY, ...byTitle(singly)]"
          label="together, who has the same"
      /></label>
    </fieldset>
    <fieldset>
      <legend>As even as can be in</legend>
      <label v-for="one in evenly" :key="one.name"
        ><input v-model="asks.even" type="checkbox" :value="one.name" /> {{ one.title }}</label
      >
    </fieldset>
    <p class="do">
      <button class="btn main" :disabled="asking || (!who && !groups?.without)">
        {{ asking ? 'Working it out …' : 'Work it out' }}</button><RouterLink class="btn" :to="back"
        >Back to the groups</RouterLink
      >
    </p>
    <p v-if="!who && groups && !groups.without" class="soft">
      Everybody has one. Keep a shortlist of those who are to be spread, on the roster’s page or a
      receipt.
    </p>
  </form>
</template>

<style scoped>
.asks {
  width: 290px;
  flex: none;
  border-right: 1px solid var(--line);
  padding: 14px 16px;
  overflow-y: auto;
  font-size: 13.5px;
}
.field {
  display: block;
  margin-top: 8px;
}
.field .box {
  display: block;
  width: 100%;
  margin-top: 3px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 14px 0 0;
}
legend {
  font-weight: 600;
  padding: 0;
  margin-bottom: 4px;
}
fieldset label:not(.field) {
  display: flex;
  gap: 8px;
  padding: 2px 0;
}
.do {
  display: flex;
  gap: 8px;
  margin: 18px 0 8px;
}
</style>
