<script setup lang="ts">
import { reactive } from 'vue'
import { Modal } from 'ant-design-vue'
import WayFields from './WayFields.vue'
import WhenFields from './WhenFields.vue'
import FileChooser from '@/components/FileChooser.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { useBeginDestination } from '@/composables/useBeginDestination'
import { ofPairs } from '@/logic/choices'

/** Who is to be told, of which roster, how and when; the layout is proposed, and can be altered. */
const props = defineProps<{ taken: string[] }>()
const emit = defineEmits<{ close: []; begun: [name: string] }>()

const KINDS = ofPairs([
  ['file', 'a file, laid out as they want it'],
  ['scim', 'pushed to a directory (SCIM 2.0)'],
  ['asked', 'they ask here, by SCIM 2.0'],
  ['gates', 'gate controllers, for cards'],
  ['called', 'a program of theirs is called with what changed'],
] as const)
const at = reactive(useBeginDestination(() => props.taken))
async function begin(): Promise<void> {
  const name = await at.begin()
  if (name) emit('begun', name)
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    title="Begin a destination"
    :footer="null"
    :width="600"
    @cancel="!at.busy && emit('close')"
  >
    <form @submit.prevent="begin">
      <label class="line"
        ><span>Who is told</span
        ><input
          v-model="at.title"
          class="box"
          maxlength="80"
          placeholder="Library"
          aria-label="Who is told"
      /></label>
      <p v-if="at.brought" class="soft">
        What it gets, how and when is as in the file, and can be altered later.
      </p>
      <template v-else>
        <p class="line">
          <span>Of which roster</span
          ><ChooseOne
            v-model="at.roster"
            :options="at.rosters"
            label="Of which roster"
            placeholder="a roster"
          />
        </p>
        <p class="line">
          <span>How</span
          ><ChooseOne
            :model-value="at.way.kind"
            :options="KINDS"
            label="How"
            @update:model-value="at.kind"
          />
        </p>
        <WayFields v-model="at.way" />
        <WhenFields v-model="at.when" />
        <p class="soft small">
          Which fields go where is proposed from what they mean; what is kept from who may only look
          is not among them. Nothing is sent until you look at it and send it, or it is due by
          itself.
        </p>
      </template>
      <p v-if="at.problem" class="flag stop" role="alert">{{ at.problem }}</p>
      <p class="do">
        <button class="btn main" :disabled="!at.ready || at.busy">
          {{ at.busy ? 'Beginning it …' : 'Begin it' }}</button><button
          type="button"
          class="btn"
          :disabled="at.busy"
          @click="emit('close')"
        >
          Cancel
        </button>
        <span class="grow" />
        <FileChooser @chosen="at.bring">From a JSON file …</FileChooser>
      </p>
    </form>
  </Modal>
</template>

<style scoped src="./lines.css"></style>
