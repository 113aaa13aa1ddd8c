import { mount } from 'svelte'
import { endWhatIsOwed } from './api/leaving'
import App from './App.svelte'
import { prepareField } from './field'
import './theme.css'

const target = document.getElementById('app')
if (!target) throw new Error('the page has no place for the app')

endWhatIsOwed()
prepareField()

export default mount(App, { target })
