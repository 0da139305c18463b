<script setup lang="ts">
import { ref } from 'vue'
import FileChooser from '@/components/FileChooser.vue'
import MailServerForm from '@/components/setup/MailServerForm.vue'
import MailTable from '@/components/setup/MailTable.vue'
import { useMail } from '@/composables/useMail'
import { usePageTitle } from '@/composables/usePageTitle'

/** Where mails are handed over, whether it works, and what became of each. */
const mail = useMail()
const address = ref('')
usePageTitle(() => 'Mail')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Mail</h1>
      <span class="grow" />
      <button
        v-if="mail.post?.server"
        class="btn"
        :disabled="mail.busy"
        @click="mail.turn(!mail.post.is_on)"
      >
        {{ mail.post.is_on ? 'Let mails wait' : 'Let mails go' }}
      </button>
    </div>
    <p v-if="mail.problem" class="flag stop" role="alert">{{ mail.problem }}</p>
    <p v-if="mail.said" class="soft" role="status">{{ mail.said }}</p>
    <template v-if="mail.post?.is_practice">
      <p class="flag">This is the practice copy: it writes to nobody.</p>
    </template>
    <template v-else-if="mail.post">
      <p v-if="!mail.post.server" class="soft">
        Nothing is mailed yet. Say to which server mails are handed over, and who writes; nothing
        goes before you send it.
      </p>
      <p v-else-if="!mail.post.is_on" class="flag">
        Mails wait: nothing goes until you let them go.
      </p>
      <p v-else-if="mail.post.problem" class="flag stop" role="alert">{{ mail.post.problem }}</p>
      <MailServerForm v-model:password="mail.password" :mail="mail" />
      <form v-if="mail.post.server" class="test" @submit.prevent="mail.test(address)">
        <label
          >A test message to
          <input v-model="address" class="box" type="email" maxlength="254" required />
        </label>
        <button class="btn" :disabled="mail.busy || !address">Send it</button>
        <a
          v-if="mail.form.shown_at"
          class="soft"
          :href="mail.form.shown_at"
          target="_blank"
          rel="noopener"
          >what the stand-in caught</a
        >
      </form>
      <p v-if="mail.post.server" class="came-back">
        <FileChooser several @chosen="(_, all) => mail.returned(all)"
          >Bring what came back …</FileChooser
        >
        <span class="soft small"
          >the messages, saved as files, by which mail servers say that a mail was not
          delivered</span
        >
      </p>
      <MailTable v-if="mail.post.server" v-model:state="mail.state" :mail="mail" />
    </template>
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
.came-back {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding: 14px 0 0;
}
.page > form.test {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: end;
  padding-top: 16px;
}
.page > form.test label {
  width: 320px;
  max-width: 100%;
}
</style>
