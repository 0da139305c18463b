<script setup lang="ts">
import { computed } from 'vue'
import { byTitle, ofPairs } from '@/logic/choices'
import ListOfValues from './ListOfValues.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import type { FieldDocument } from '@/api/types'
import { withPart } from '@/logic/definition'

const props = defineProps<{
  roster: string
  lists: string[]
  fields: FieldDocument[]
  isKey: boolean
  locked: boolean
}>()
const emit = defineEmits<{ drop: [] }>()
const field = defineModel<FieldDocument>({ required: true })

const TYPES = ['string', 'integer', 'number', 'boolean', 'date', 'datetime', 'year'].map(
  (type) => ({ value: type, label: type }),
)
const FORMATS = ofPairs([
  ['', 'any text'],
  ['email', 'mail addresses'],
  ['phone', 'phone numbers'],
])
const NONE = { value: '', label: 'none' }
const MEANS = [
  '',
  'family-name',
  'given-name',
  'birth-date',
  'mail',
  'phone',
  'street',
  'postcode',
  'town',
  'sex',
].map((name) => ({ value: name, label: name.replace('-', ' ') || 'nothing of these' }))
const CHECKS = [
  '',
  'luhn',
  'damm',
  'verhoeff',
  'iso7064-mod11-2',
  'iso7064-mod37-2',
  'iso7064-mod97-10',
  'iso7064-mod661-26',
  'iso7064-mod1271-36',
  'iso7064-mod11-10',
  'iso7064-mod27-26',
  'iso7064-mod37-36',
].map((name) => ({ value: name, label: name || 'none' }))
const limits = computed(() => field.value.constraints ?? {})
const own = computed(() => field.value.nevefield ?? {})
/** The code lists, with one that was made of this field's values just now. */
const known = computed(() => [
  ...new Set([...props.lists, String(own.value.codeList ?? '')].filter(Boolean)),
])
const scheme = computed(() => (own.value.identifier ?? {}) as Record<string, string>)
/** The fields of codes under whose codes this one's may stand. */
const parents = computed(() =>
  props.fields.filter((one) => one.name !== field.value.name && one.nevefield?.codeList),
)
const ordered = computed(() =>
  ['integer', 'number', 'date', 'datetime', 'year'].includes(field.value.type ?? 'string'),
)
const text = (event: Event) => (event.target as HTMLInputElement).value.trim()
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
const set = (name: 'title' | 'type' | 'format', value: string) =>
  (field.value = { ...field.value, [name]: value || undefined })
const limit = (name: string, value: unknown) =>
  (field.value = withPart(field.value, 'constraints', name, value))
const mine = (name: string, value: unknown) =>
  (field.value = withPart(field.value, 'nevefield', name, value))
const number = (event: Event) => (text(event) === '' ? undefined : Number(text(event)))

function setFormat(format: string): void {
  const isPhone = format === 'phone'
  mine('kind', isPhone ? 'phone' : '')
  set('format', isPhone ? '' : format)
}

function identify(name: string, value: unknown): void {
  const rest = Object.fromEntries(
    Object.entries({ ...scheme.value, [name]: value }).filter(
      ([, one]) => one !== '' && one !== undefined,
    ),
  )
  mine('identifier', Object.keys(rest).length ? rest : undefined)
}
</script>

<template>
  <form class="form" @submit.prevent>
    <label
      >Title
      <TextBox
        class="box"
        :model-value="field.title ?? field.name"
        :disabled="locked"
        maxlength="120"
        @change="set('title', text($event))"
    /></label>
    <label
      >Name
      <input
        class="box mono"
        :value="field.name"
        disabled
        title="The name is what files, recipes and records know the field by; it stays."
    /></label>
    <label
      >Type
      <ChooseOne
        :model-value="field.type ?? 'string'"
        :options="TYPES"
        label="Type"
        :disabled="locked"
        @update:model-value="(type) => set('type', type ?? '')"
    /></label>
    <label v-if="(field.type ?? 'string') === 'string'"
      >Holds
      <ChooseOne
        :model-value="own.kind === 'phone' ? 'phone' : (field.format ?? '')"
        :options="FORMATS"
        label="Holds"
        :disabled="locked"
        @update:model-value="(format) => setFormat(format ?? '')"
      />
    </label>
    <p class="ticks">
      <label
        ><input
          type="checkbox"
          :checked="Boolean(limits.required)"
          :disabled="locked || isKey"
          @change="limit('required', ticked($event))"
        />
        required</label
      >
      <label
        ><input
          type="checkbox"
          :checked="Boolean(limits.unique)"
          :disabled="locked || isKey"
          @change="limit('unique', ticked($event))"
        />
        unique</label
      >
      <label
        ><input
          type="checkbox"
          :checked="Boolean(own.sensitive)"
          :disabled="locked"
          @change="mine('sensitive', ticked($event))"
        />
        sensitive</label
      >
    </p>
    <label
      >Other names in files
      <TextBox
        class="box"
        :model-value="((own.aliases as string[]) ?? []).join('; ')"
        :disabled="locked"
        placeholder="cadet no; number"
        @change="
          mine(
            'aliases',
            text($event)
              .split(';')
              .map((one) => one.trim())
              .filter(Boolean),
          )
        "
    /></label>
    <label
      >Code list
      <ChooseOne
        :model-value="String(own.codeList ?? '')"
        :options="[NONE, ...known.map((name) => ({ value: name, label: name }))]"
        label="Code list"
        :disabled="locked"
        @update:model-value="(list) => mine('codeList', list ?? '')"
    /></label>
    <ListOfValues
      v-if="!own.codeList && !locked && (field.type ?? 'string') === 'string'"
      :roster="roster"
      :field="field.name"
      @made="(list: string) => mine('codeList', list)"
    />
    <label v-if="own.codeList"
      >Parent’s field
      <ChooseOne
        :model-value="String(own.parent ?? '')"
        :options="[NONE, ...byTitle(parents)]"
        label="Parent’s field"
        :disabled="locked"
        @update:model-value="(parent) => mine('parent', parent ?? '')"
    /></label>
    <label
      >Several values, between them
      <TextBox
        class="box few"
        :model-value="own.several ?? ''"
        :disabled="locked"
        maxlength="3"
        placeholder="one"
        @change="mine('several', text($event))"
    /></label>
    <template v-if="ordered">
      <label
        >At least
        <TextBox
          class="box"
          :model-value="limits.minimum ?? ''"
          :disabled="locked"
          @change="
            limit('minimum', field.type?.startsWith('date') ? text($event) : number($event))
          "
      /></label>
      <label
        >At most
        <TextBox
          class="box"
          :model-value="limits.maximum ?? ''"
          :disabled="locked"
          @change="
            limit('maximum', field.type?.startsWith('date') ? text($event) : number($event))
          "
      /></label>
    </template>
    <template v-else>
      <label
        >Characters at most
        <TextBox
          class="box few"
          type="number"
          min="1"
          :model-value="limits.maxLength ?? ''"
          :disabled="locked"
          @change="limit('maxLength', number($event))"
      /></label>
      <label
        >Pattern
        <TextBox
          class="box mono"
          :model-value="limits.pattern ?? ''"
          :disabled="locked"
          placeholder="[A-D][0-9]{3}"
          @change="limit('pattern', text($event))"
      /></label>
      <label
        >Identifier: check
        <ChooseOne
          :model-value="scheme.check ?? ''"
          :options="CHECKS"
          label="Identifier: check"
          :disabled="locked"
          @update:model-value="(check) => identify('check', check)"
      /></label>
      <label
        >Identifier: begins with
        <TextBox
          class="box few mono"
          :model-value="scheme.prefix ?? ''"
          :disabled="locked"
          @change="identify('prefix', text($event))"
      /></label>
      <label
        >Identifier: whole length
        <TextBox
          class="box few"
          type="number"
          min="0"
          :model-value="scheme.length ?? ''"
          :disabled="locked"
          @change="identify('length', number($event))"
      /></label>
    </template>
    <label
      >About a person
      <ChooseOne
        :model-value="String(own.means ?? '')"
        :options="MEANS"
        label="About a person"
        :disabled="locked"
        @update:model-value="(meaning) => mine('means', meaning ?? '')"
    /></label>
    <label
      >Office that owns it
      <TextBox
        class="box"
        :model-value="own.owner ?? ''"
        :disabled="locked"
        maxlength="80"
        @change="mine('owner', text($event))"
    /></label>
    <button v-if="!isKey && !locked" type="button" class="btn" @click="emit('drop')">
      Remove the field
    </button>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 20px;
  align-content: start;
}
label {
  display: grid;
  grid-template-columns: 150px 1fr;
  align-items: center;
  gap: 8px;
  font-size: 13.5px;
}
.ticks {
  display: flex;
  gap: 18px;
  grid-column: 1 / -1;
}
.ticks label {
  display: flex;
}
.few {
  width: 90px;
}
.btn {
  justify-self: start;
}
</style>
