<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { byTitle } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ConditionEditor from '@/components/definition/ConditionEditor.vue'
import FieldEditor from '@/components/intake/FieldEditor.vue'
import { tryRules } from '@/api/groups'
import type { Condition, Rule, RuleIn, Roster } from '@/api/types'
import { useAnswer } from '@/composables/useAnswer'
import { counted } from '@/logic/words'

/** One placement rule, tried as it is written. */
const props = defineProps<{
  open: boolean
  roster: Roster
  rules: RuleIn[]
  place: number
  usual: string
}>()
const emit = defineEmits<{ done: [rule: RuleIn]; close: [] }>()

const when = ref<Condition>({})
const field = ref('')
const value = ref('')
const fields = computed(() =>
  props.roster.fields.map((one) => ({ name: one.name, title: one.title })),
)
const target = computed(() => props.roster.fields.find((one) => one.name === field.value))
const rule = computed<RuleIn>(() => ({
  when: { ...when.value },
  field: field.value,
  value: value.value.trim(),
  off: props.rules[props.place]?.off ?? false,
}))
const isSaid = computed(
  () => !!field.value && !!rule.value.value && JSON.stringify(when.value) !== '{}',
)
const more = (names: string[], all: number) =>
  `${names.slice(0, 4).join('; ')}${all > 4 ? ` and ${all - 4} more` : ''}`

watch(
  () => props.open,
  (open) => {
    if (!open) return
    const had = props.rules[props.place]
    when.value = (had?.when as Condition | undefined) ?? {
      field: props.roster.fields.find((one) => one.code_list)?.name ?? '',
      is: '',
    }
    field.value = had?.field ?? props.usual
    value.value = had?.value ?? ''
  },
)
const {
  answer: tried,
  problem,
  waiting,
  again,
} = useAnswer(() => (props.open && isSaid.value ? tryIt() : null))
async function tryIt(): Promise<Rule | null> {
  const list = [...props.rules]
  list[props.place] = { ...rule.value, off: false }
  return (await tryRules(props.roster.name, list)).rules[props.place] ?? null
}
watch(() => [props.open, rule.value], again, { deep: true })
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="rules[place] ? 'Alter the rule' : 'Another rule'"
    :footer="null"
    :width="640"
    @cancel="emit('close')"
  >
    <h3>Where</h3>
    <ConditionEditor v-model="when" :fields="fields" :locked="false" />
    <h3>follows</h3>
    <p class="then">
      <ChooseOne
        v-model="field"
        :options="byTitle(roster.fields.filter((each) => !each.is_key))"
        label="The field that follows"
      />
      is
      <FieldEditor
        v-if="target"
        :key="field"
        v-model="value"
        :field="{ ...target, several: false }"
        class="value"
        @done="() => undefined"
        @leave="() => undefined"
      />
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="tried" class="tried" role="status">
      <p>
        <b>{{ counted(tried.fits, 'person fits', 'people fit') }}</b>: {{ tried.there }} there
        already, <b>{{ tried.moves }} would move</b
        >{{ tried.moves ? `: ${more(tried.people, tried.moves)}` : '' }}.
      </p>
      <p v-if="tried.by_hand" class="soft">
        {{ counted(tried.by_hand, 'was', 'were') }} placed elsewhere by hand and stay:
        {{ more(tried.kept, tried.by_hand) }}.
      </p>
      <p v-if="tried.against" class="soft">
        An earlier rule puts {{ tried.against }} elsewhere:
        {{ more(tried.contested, tried.against) }}.
      </p>
    </div>
    <p v-else-if="waiting && isSaid" class="soft" role="status">Trying it …</p>
    <p v-else class="soft">
      Say it whole, and you see whom it would move. Nobody is moved before you say so.
    </p>
    <p class="do">
      <button class="btn main" :disabled="!isSaid || !tried" @click="emit('done', rule)">
        Keep the rule</button
      ><button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
h3 {
  margin: 12px 0 6px;
}
.then {
  display: flex;
  gap: 10px;
  align-items: center;
}
.value {
  flex: 1;
}
.tried {
  margin-top: 12px;
  background: var(--shade);
  padding: 8px 12px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
