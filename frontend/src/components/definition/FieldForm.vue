<script setup lang="ts">
import { computed } from 'vue'
import TextBox from '@/components/TextBox.vue'
import type { FieldDocument } from '@/api/types'
import { withPart } from '@/logic/definition'

const props = defineProps<{
  lists: string[]
  fields: FieldDocument[]
  isKey: boolean
  locked: boolean
}>()
const emit = defineEmits<{ drop: [] }>()
const field = defineModel<FieldDocument>({ required: true })

const TYPES = ['string', 'integer', 'number', 'boolean', 'date', 'datetime', 'year']
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
]
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
]
const limits = computed(() => field.value.constraints ?? {})
const own = computed(() => field.value.nevefield ?? {})
const scheme = computed(() => (own.value.identifier ?? {}) as Record<string, unknown>)
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
      <select
        class="box"
        :value="field.type ?? 'string'"
        :disabled="locked"
        @change="set('type', text($event))"
      >
        <option v-for="one in TYPES" :key="one">{{ one }}</option>
      </select></label
    >
    <label v-if="(field.type ?? 'string') === 'string'"
      >Holds
      <select
        class="box"
        :value="own.kind === 'phone' ? 'phone' : (field.format ?? '')"
        :disabled="locked"
        @change="
          text($event) === 'phone'
            ? (set('format', ''), mine('kind', 'phone'))
            : (mine('kind', ''), set('format', text($event)))
        "
      >
        <option value="">any text</option>
        <option value="email">mail addresses</option>
        <option value="phone">phone numbers</option>
      </select>
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
      <select
        class="box"
        :value="own.codeList ?? ''"
        :disabled="locked"
        @change="mine('codeList', text($event))"
      >
        <option value="">none</option>
        <option v-for="one in lists" :key="one">{{ one }}</option>
      </select></label
    >
    <label v-if="own.codeList"
      >Parent’s field
      <select
        class="box"
        :value="own.parent ?? ''"
        :disabled="locked"
        @change="mine('parent', text($event))"
      >
        <option value="">none</option>
        <option
          v-for="one in props.fields.filter(
            (two) => two.name !== field.name && two.nevefield?.codeList,
          )"
          :key="one.name"
          :value="one.name"
        >
          {{ one.title ?? one.name }}
        </option>
      </select></label
    >
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
        <select
          class="box"
          :value="scheme.check ?? ''"
          :disabled="locked"
          @change="identify('check', text($event))"
        >
          <option v-for="one in CHECKS" :key="one" :value="one">{{ one || 'none' }}</option>
        </select></label
      >
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
      <select
        class="box"
        :value="own.means ?? ''"
        :disabled="locked"
        @change="mine('means', text($event))"
      >
        <option v-for="one in MEANS" :key="one" :value="one">
          {{ one.replace('-', ' ') || 'nothing of these' }}
        </option>
      </select></label
    >
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
      Take the field away
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
