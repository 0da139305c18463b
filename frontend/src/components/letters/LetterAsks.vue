<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ChooseSeveral from '@/components/controls/ChooseSeveral.vue'
import DayField from '@/components/controls/DayField.vue'
import { listPasswordPlaces } from '@/api/letters'
import type { Asks, PasswordPlace, Roster } from '@/api/types'
import { dayPlus, today } from '@/logic/clock'

/** Each is asked, by a link of their own, whether their data are right, or to set a password. */
const props = defineProps<{ roster: Roster }>()
const emit = defineEmits<{ ask: [asks: Asks | null, place: string] }>()
const asks = defineModel<Asks | null>({ required: true })
const DAYS = 14
const MEANT = ['family-name', 'given-name']
const places = ref<PasswordPlace[]>([])
const looksAtData = ref(!!asks.value?.fields.length)

const own = computed(() => props.roster.fields.filter((one) => !one.is_kept && !one.is_key))
const offered = computed(() => own.value.map((one) => ({ value: one.name, label: one.title })))
const systems = computed(() => places.value.map((one) => ({ value: one.name, label: one.title })))
const fields = computed({
  get: () => asks.value?.fields.join(';') ?? '',
  set: (text) =>
    set({
      fields: text
        .split(';')
        .map((one) => one.trim())
        .filter(Boolean),
    }),
})
const proofs = computed(() => [
  { value: '', label: 'nothing, the link is enough' },
  ...props.roster.fields
    .filter((one) => !asks.value?.fields.includes(one.name))
    .map((one) => ({ value: one.name, label: one.title })),
])
const set = (some: Partial<Asks>) => {
  if (asks.value) asks.value = { ...asks.value, ...some }
}
function change(some: Partial<Asks>): void {
  const begun = { fields: [], last_day: dayPlus(today(), DAYS), proof: '', password_at: '' }
  const next = { ...(asks.value ?? begun), ...some }
  const place = places.value.find((one) => one.name === next.password_at)?.title ?? ''
  emit('ask', looksAtData.value || next.password_at ? next : null, place)
}
function tickData(on: boolean): void {
  const first = own.value.filter((one) => MEANT.includes(one.means) || one.is_mail)
  looksAtData.value = on
  change({ fields: on ? first.map((one) => one.name) : [] })
}
const tickPassword = (on: boolean) => change({ password_at: on ? places.value[0]!.name : '' })
const isOn = (event: Event) => (event.target as HTMLInputElement).checked
onMounted(async () => {
  // without a connection there is none to offer; the look at the letter says so
  places.value = await listPasswordPlaces(props.roster.name).catch(() => [])
})
</script>

<template>
  <label class="tick"
    ><input type="checkbox" :checked="looksAtData" @change="(event) => tickData(isOn(event))" /> Ask
    each, by a link of their own, whether their data are right</label
  >
  <label v-if="places.length" class="tick"
    ><input
      type="checkbox"
      :checked="!!asks?.password_at"
      @change="(event) => tickPassword(isOn(event))"
    />
    Let each set their own password, by a link of their own</label
  >
  <div v-if="asks" class="asks">
    <template v-if="asks.password_at">
      <span>Password at</span>
      <ChooseOne
        :model-value="asks.password_at"
        :options="systems"
        label="Password at"
        @update:model-value="(name) => name && change({ password_at: name })"
      />
    </template>
    <template v-if="looksAtData">
      <span>They look at</span>
      <ChooseSeveral
        v-model="fields"
        :options="offered"
        label="They look at"
        placeholder="choose fields"
      />
    </template>
    <span>Until</span>
    <DayField
      :model-value="asks.last_day"
      label="Until"
      :min="today()"
      needed
      @update:model-value="(day) => set({ last_day: day })"
    />
    <span>They say first</span>
    <ChooseOne
      :model-value="asks.proof"
      :options="proofs"
      label="They say first"
      @update:model-value="(name) => set({ proof: name ?? '' })"
    />
    <p v-if="looksAtData" class="soft small">
      A correction is looked at, as any file, before it counts.
    </p>
    <p v-if="asks.password_at && !asks.proof" class="small">
      Whoever has the link sets the password: let them say first what only they know, unless the
      letter comes into nobody else's hands.
    </p>
  </div>
</template>

<style scoped src="./asks.css"></style>
